"""What was worked out from records that have not changed since: kept, within bounds, under all that it hangs on."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from typing import Any, TypeVar

Value = TypeVar("Value")


class Memory:
    """Results by their keys, the least lately asked for dropped first.

    A key names everything that its result hangs on, so that a result is never out of date: it is only
    not asked for any more.
    """

    def __init__(self, most: int) -> None:
        self.most = most
        self._kept: OrderedDict[Hashable, Any] = OrderedDict()
        self._making: dict[Hashable, Future[Any]] = {}
        self._newest: dict[Hashable, Hashable] = {}  # key of what it is a result of
        self._lock = threading.Lock()

    def get(self, key: Hashable, make: Callable[[], Value], of: Hashable = None) -> Value:
        """The result for a key, made where it is not kept. An error is not kept. Of those who ask at once the first
        makes it, the others wait for that; where it fails, each tries for himself. Args: of, what it is a result of,
        where one of each is enough: the one before goes."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
            first = self._making.get(key)
            own: Future[Any] = Future()
            if first is None:
                self._making[key] = own
        if first is not None:
            return first.result() if first.exception() is None else make()
        try:
            made = make()
        except BaseException as error:
            own.set_exception(error)
            raise
        else:
            own.set_result(made)
            self._keep(key, made, of)
            return made
        finally:
            with self._lock:
                del self._making[key]

    def _keep(self, key: Hashable, made: Any, of: Hashable) -> None:
        with self._lock:
            if of is not None:
                self._kept.pop(self._newest.get(of), None)
                self._newest[of] = key
            self._kept[key] = made
            self._kept.move_to_end(key)
            while len(self._kept) > self.most:
                self._kept.popitem(last=False)
            if len(self._newest) > 2 * self.most:
                self._newest = {each: kept for each, kept in self._newest.items() if kept in self._kept}

    def __contains__(self, key: Hashable) -> bool:
        """Whether the result for a key is kept."""
        with self._lock:
            return key in self._kept

    def __len__(self) -> int:
        return len(self._kept)
