"""What was worked out from records that have not changed since: kept, within bounds, under all that it hangs on."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
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
        self._lock = threading.Lock()

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The result for a key, made where it is not kept. An error is not kept. Two who ask at once may both
        make it: they make the same."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            self._kept.move_to_end(key)
            while len(self._kept) > self.most:
                self._kept.popitem(last=False)
        return made

    def __len__(self) -> int:
        return len(self._kept)
