"""How often a door may be tried: wrong tries by address, forgotten with time."""

from __future__ import annotations

import ipaddress
import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from time import monotonic

FREE_TRIES = 5
FORGOTTEN_S = 900.0  # how long until one wrong try counts no more
FIRST_WAIT_S, LONGEST_WAIT_S = 5.0, 900.0
HELD_S = 2.0  # how far apart the tries of an address are heard that was in before
MOST_HELD = 30  # of them at once
MOST_ASKERS = 4000


@lru_cache(4096)
def neighbours(address: str) -> str:
    """What counts as one asker: the address; of the longer kind its network, of which one device has all.

    Args:
        address: of a device, as text.

    Returns:
        the text to count under.

    Source:
        RFC 4291, section 2.5.4: an interface chooses the last 64 bits itself.
    """
    try:
        told = ipaddress.ip_address(address)
    except ValueError:
        return address
    if isinstance(told, ipaddress.IPv4Address):
        return address
    if told.ipv4_mapped is not None:
        return str(told.ipv4_mapped)
    return str(ipaddress.ip_network((told, 64), strict=False))


@dataclass
class Tries:
    """Of one asker: wrong tries as far as they still count, when that was last worked out, when the last one was,
    and until when tries that are held are waiting [s]."""

    count: float = 0.0
    at_s: float = 0.0
    last_s: float = -LONGEST_WAIT_S
    held_until_s: float = 0.0


@dataclass
class Throttle:
    """Wrong tries of each asker by itself, so that nobody is refused for what others do. After a few each makes the
    wait twice as long; one is forgotten every quarter of an hour. An asker who was in before is never refused: what he
    tries is heard a little later, one after the other."""

    clock: Callable[[], float] = monotonic
    tries: dict[str, Tries] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def wait_s(self, asker: str) -> float:
        """Seconds until a stranger may try again; nought when he may."""
        with self.lock:
            kept, now = self._now(asker), self.clock()
            if kept.count < FREE_TRIES - 0.5:
                return 0.0
            pause = FIRST_WAIT_S * 2.0 ** min(max(kept.count - FREE_TRIES, 0.0), 20.0)
            return max(kept.last_s + min(pause, LONGEST_WAIT_S) - now, 0.0)

    def hold_s(self, asker: str) -> float | None:
        """Seconds for which a try of one who was in before is held before it is heard; nought while he mistyped
        little; None where so many of his are held already that no hand can have typed them."""
        with self.lock:
            kept, now = self._now(asker), self.clock()
            if kept.count < FREE_TRIES - 0.5:
                return 0.0
            begins = max(now, kept.held_until_s)
            if begins - now > MOST_HELD * HELD_S:
                return None
            kept.held_until_s = begins + HELD_S
            return kept.held_until_s - now

    def note_wrong(self, asker: str) -> None:
        """A wrong try."""
        with self.lock:
            kept = self._now(asker)
            kept.count, kept.last_s = kept.count + 1.0, self.clock()
            self.tries[neighbours(asker)] = kept
            if len(self.tries) > MOST_ASKERS:
                self._forget_one()

    def note_right(self, asker: str) -> None:
        """The right one: this asker starts anew."""
        with self.lock:
            self.tries.pop(neighbours(asker), None)

    def _now(self, asker: str) -> Tries:
        """What counts of an asker at this moment; of one that nobody knows nothing does."""
        kept, now = self.tries.get(neighbours(asker), Tries(at_s=self.clock())), self.clock()
        kept.count = max(kept.count - max(now - kept.at_s, 0.0) / FORGOTTEN_S, 0.0)
        kept.at_s = now
        return kept

    def _forget_one(self) -> None:
        """Room for another: the one whose tries count least goes."""
        del self.tries[min(self.tries, key=lambda asker: self._now(asker).count)]
