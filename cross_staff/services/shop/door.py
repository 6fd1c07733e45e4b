"""The door of the shop: who was let in, on which device, and who holds it."""

from __future__ import annotations

import hashlib
import logging
import secrets
import threading
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from pathlib import Path

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.shop.people import Person
from cross_staff.core.shop.throttle import Throttle, neighbours
from cross_staff.services.shop import people
from cross_staff.services.shop.passphrase import checked, hashed, matches, stamp
from cross_staff.storage import shop, visits
from cross_staff.storage.authors import ACTING, Acting
from cross_staff.storage.database import Database
from cross_staff.storage.visits import Visit

VISIT_DAYS = 30  # unseen, until a device is asked again
KNOWN_DAYS = 90  # for how long an address counts as one that was in before
SEEN_EVERY = timedelta(minutes=10)
TOO_MANY = "too many wrong tries"
_log = logging.getLogger("cross_staff.security")


class Waits(InvalidValue):
    """Asked too often: to be tried again later."""


@dataclass
class Door:
    """Visits are kept in mind as they are on file: one program at a time serves a data folder.

    Args: asks, whether whoever comes over the network says the passphrase.
    """

    database: Database
    data: Path
    asks: bool
    throttle: Throttle = field(default_factory=Throttle)
    pins: Throttle = field(default_factory=Throttle)

    def __post_init__(self) -> None:
        self._lock = threading.RLock()
        with self.database.reading() as connection:
            self._visits = {each.visit: each for each in visits.every(connection)}
        self._tokens = {each.token_sha256: each.visit for each in self._visits.values()}
        self._people: dict[int, Person] = {}
        self.look_again()

    # who is here

    def look_again(self) -> None:
        """The people as they are by now."""
        self._people = {each.person: each for each in people.every(self.database)}

    @property
    def has_people(self) -> bool:
        """Whether anybody was entered."""
        return bool(self._people)

    def visit(self, cookie: str, now: datetime) -> Visit | None:
        """The visit of a device by its cookie; None where there is none, or it ended or wore off. A clock that was set
        back ends none."""
        kept = self._visits.get(self._tokens.get(_sum(cookie), 0)) if cookie else None
        worn = kept is not None and now - kept.seen > timedelta(days=VISIT_DAYS)
        return None if kept is None or kept.ended is not None or worn else kept

    def let_in(self, visit: Visit | None) -> bool:
        """Whether a device that comes over the network may come in: by the passphrase that holds now."""
        return visit is not None and visit.passphrase != "" and visit.passphrase == stamp(shop.kept(self.data))

    def holder(self, visit: Visit | None) -> Person | None:
        """Who holds the device; None where nobody said, or he is not of the shop any more."""
        return None if visit is None or visit.person is None else self._people.get(visit.person)

    def here(self, now: datetime) -> list[Visit]:
        """Visits that did not end, the last seen first."""
        mine = [each for each in self._visits.values() if each.ended is None]
        kept = [each for each in mine if now - each.seen <= timedelta(days=VISIT_DAYS)]
        return sorted(kept, key=lambda each: each.seen, reverse=True)

    def needs_note(self, visit: Visit, address: str, now: datetime) -> bool:
        """Whether it is to be written down that a device was seen."""
        return abs(now - visit.seen) > SEEN_EVERY or visit.address != address

    def note(self, visit: Visit, address: str, now: datetime) -> None:
        """The device was seen."""
        self._put(replace(visit, seen=now, address=address))

    # coming and going

    def known(self, address: str, now: datetime) -> bool:
        """Whether a device was let in from this address within the last months."""
        asker, long_ago = neighbours(address), timedelta(days=KNOWN_DAYS)
        return any(
            neighbours(each.address) == asker and each.passphrase and now - each.seen < long_ago
            for each in list(self._visits.values())
        )

    def hold_s(self, address: str, now: datetime) -> float:
        """How long a try from here is held before it is heard; nought for most, and for strangers, who are refused
        instead. Raises Waits."""
        if not self.known(address, now):
            return 0.0
        hold = self.throttle.hold_s(address)
        if hold is None:
            raise Waits("passphrase", f"{TOO_MANY} at once: wait a minute")
        return hold

    def knock(self, passphrase: str, address: str, device: str, now: datetime) -> str:
        """A cookie for the right passphrase. Raises: Waits for too many wrong tries of a stranger; InvalidValue for a
        wrong one, and while none was chosen."""
        kept = shop.kept(self.data)
        if kept is None:
            raise InvalidValue("passphrase", "no passphrase is chosen yet: start the program again with --host")
        wait = 0.0 if self.known(address, now) else self.throttle.wait_s(address)
        if wait > 0.0:
            raise Waits("passphrase", f"{TOO_MANY}: wait {wait + 1:.0f} s")
        if not matches(passphrase, kept.passphrase_hash):
            self.throttle.note_wrong(address)
            _log.warning("a wrong passphrase from %s", address)
            raise InvalidValue("passphrase", "that is not the shop's passphrase")
        self.throttle.note_right(address)
        _log.info("a %s was let in from %s", device, address)
        return self._begin(stamp(kept), address, device, now)

    def _begin(self, by: str, address: str, device: str, now: datetime, person: int | None = None) -> str:
        cookie = secrets.token_urlsafe(32)
        begun = Visit(0, _sum(cookie), by, device, address, now, now, person)
        with self._lock, self.database.writing() as connection:
            kept = replace(begun, visit=visits.add(connection, begun))
        self._visits[kept.visit], self._tokens[kept.token_sha256] = kept, kept.visit
        return cookie

    def end(self, visit: int, now: datetime) -> None:
        """A device is asked again. Raises NotFound."""
        kept = self._visits.get(visit)
        if kept is None:
            raise NotFound(f"there is no visit {visit}")
        if kept.ended is None:
            _log.info("visit %s was ended by %s", visit, acts() or "nobody by name")
            self._put(replace(kept, ended=now, person=None))

    def _put(self, visit: Visit) -> None:
        with self._lock:
            with self.database.writing() as connection:
                visits.put(connection, visit)
            before = self._visits[visit.visit]
            self._visits[visit.visit] = visit
            if visit.token_sha256 != before.token_sha256:
                self._tokens.pop(before.token_sha256, None)
                self._tokens[visit.token_sha256] = visit.visit

    # who holds it

    def sign_in(self, visit: Visit | None, person: int, pin: str, address: str, device: str, now: datetime) -> str:
        """Somebody takes a device that was let in, or this machine, by his PIN; returns its new cookie: who had the one
        before holds nothing by it. Raises: NotFound; Waits; InvalidValue for a wrong PIN."""
        asker = f"{address} {person}"
        wait = self.pins.wait_s(asker)
        if wait > 0.0:
            raise Waits("pin", f"{TOO_MANY}: wait {wait + 1:.0f} s")
        if people.has_pin(self.database, person, pin) is None:
            self.pins.note_wrong(asker)
            _log.warning("a wrong PIN for person %s from %s", person, address)
            raise InvalidValue("pin", "that is not the PIN of this person")
        self.pins.note_right(asker)
        _log.info("person %s signed in from %s", person, address)
        if visit is None:
            return self._begin("", address, device, now, person)
        cookie = secrets.token_urlsafe(32)
        self._put(replace(visit, token_sha256=_sum(cookie), person=person, seen=now))
        return cookie

    def sign_out(self, visit: Visit) -> None:
        """Nobody holds the device; it stays let in."""
        self._put(replace(visit, person=None))

    def change_passphrase(
        self, visit: Visit | None, old: str, new: str, again: str, address: str, now: datetime
    ) -> int:
        """Another passphrase; every other device is asked for it, this one not. Returns how many were turned out.

        Raises: Waits; InvalidValue: the old one is wrong, the new one is none, or not the same twice.
        """
        kept = shop.kept(self.data)
        if kept is not None:
            wait = self.throttle.wait_s(address)
            if wait > 0.0:
                raise Waits("old", f"{TOO_MANY}: wait {wait + 1:.0f} s")
            if not matches(old, kept.passphrase_hash):
                self.throttle.note_wrong(address)
                raise InvalidValue("old", "that is not the shop's passphrase")
        checked(new)
        if new.strip() != again.strip():
            raise InvalidValue("again", "not the same as above")
        now_kept = shop.keep(self.data, hashed(new.strip()), kept.given_hash if kept else "")
        others = [each for each in self.here(now) if each.passphrase and (visit is None or each.visit != visit.visit)]
        _log.warning("another passphrase, from %s: %s devices are turned out", address, len(others))
        for each in others:
            self.end(each.visit, now)
        if visit is not None and visit.passphrase:
            self._put(replace(visit, passphrase=stamp(now_kept), seen=now))
        return len(others)


def acting(who: str, came_by: str = ""):  # type: ignore[no-untyped-def]
    """What is written from now on is somebody's; returns what `acted` takes it back with."""
    return ACTING.set(Acting(who, came_by))


def acted(token) -> None:  # type: ignore[no-untyped-def]
    """The end of `acting`."""
    ACTING.reset(token)


def acts() -> str:
    """The name of who acts now; empty where nobody said."""
    return ACTING.get().who


def _sum(cookie: str) -> str:
    return hashlib.sha256(cookie.encode()).hexdigest()
