"""The shop's passphrase: chosen once, asked of everybody who is not at this machine, throttled."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from time import monotonic

from cross_staff.core.errors import InvalidValue
from cross_staff.storage import shop

LEAST_LETTERS, MOST_LETTERS = 8, 200
COOKIE_DAYS = 30
FREE_TRIES = 5
FIRST_WAIT_S, LONGEST_WAIT_S = 5.0, 900.0
MOST_ASKERS = 1000


def choose_passphrase(data: Path, passphrase: str) -> None:
    """Choose the shop's passphrase, or another one. Raises InvalidValue for one that is too short."""
    from pwdlib import PasswordHash

    if not LEAST_LETTERS <= len(passphrase.strip()) <= MOST_LETTERS:
        raise InvalidValue("passphrase", f"at least {LEAST_LETTERS} letters: a few words are best")
    shop.keep(data, PasswordHash.recommended().hash(passphrase.strip()))


@dataclass
class Throttle:
    """Wrong tries by address: after a few, each makes the next wait twice as long. Everybody together is
    throttled too, so that many addresses help nobody."""

    clock: Callable[[], float] = monotonic
    wrong: dict[str, tuple[int, float]] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def wait_s(self, asker: str) -> float:
        """Seconds until this address may try again; nought when it may."""
        with self.lock:
            return max(self._wait(asker, FREE_TRIES), self._wait("", 4 * FREE_TRIES))

    def _wait(self, asker: str, free: int) -> float:
        tries, last = self.wrong.get(asker, (0, 0.0))
        if tries < free:
            return 0.0
        pause = min(FIRST_WAIT_S * 2.0 ** min(tries - free, 20), LONGEST_WAIT_S)
        return max(last + pause - self.clock(), 0.0)

    def note_wrong(self, asker: str) -> None:
        """A wrong passphrase from an address."""
        with self.lock:
            if len(self.wrong) > MOST_ASKERS:
                self.wrong = {"": self.wrong.get("", (0, 0.0))}
            for key in (asker, ""):
                self.wrong[key] = (self.wrong.get(key, (0, 0.0))[0] + 1, self.clock())

    def note_right(self, asker: str) -> None:
        """The right one: this address starts anew."""
        with self.lock:
            self.wrong.pop(asker, None)


class Gatekeeper:
    """Lets in who knows the passphrase; the cookie it gives is signed and wears off."""

    def __init__(self, data: Path, throttle: Throttle | None = None) -> None:
        self.data = data
        self.throttle = throttle or Throttle()

    def knock(self, passphrase: str, asker: str) -> str:
        """A signed cookie for the right passphrase.

        Raises: InvalidValue for a wrong one, for too many tries, and while none was chosen.
        """
        from pwdlib import PasswordHash

        kept = shop.kept(self.data)
        if kept is None:
            raise InvalidValue("passphrase", "no passphrase is chosen yet: start the program again with --host")
        wait = self.throttle.wait_s(asker)
        if wait > 0.0:
            raise InvalidValue("passphrase", f"too many wrong tries: wait {wait + 1:.0f} s")
        if not PasswordHash.recommended().verify(passphrase.strip()[:MOST_LETTERS], kept.passphrase_hash):
            self.throttle.note_wrong(asker)
            raise InvalidValue("passphrase", "that is not the shop's passphrase")
        self.throttle.note_right(asker)
        return str(_signer(kept.signing_key).sign("shop").decode())

    def knows(self, cookie: str) -> bool:
        """Whether a cookie is one of ours and has not worn off."""
        from itsdangerous import BadSignature

        kept = shop.kept(self.data)
        if kept is None or not cookie:
            return False
        try:
            return bool(_signer(kept.signing_key).unsign(cookie, max_age=COOKIE_DAYS * 86400) == b"shop")
        except BadSignature:
            return False


def _signer(key: str):  # type: ignore[no-untyped-def]
    from itsdangerous import TimestampSigner

    return TimestampSigner(key, salt="cross-staff shop cookie")
