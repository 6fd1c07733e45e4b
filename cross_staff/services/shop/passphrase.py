"""The shop's passphrase: chosen once, kept as its hash, asked of everybody who is not at this machine."""

from __future__ import annotations

import hashlib
from pathlib import Path

from cross_staff.core.errors import InvalidValue
from cross_staff.storage import shop

LEAST_LETTERS, MOST_LETTERS, LEAST_DIFFERENT = 12, 200, 5


def choose_passphrase(data: Path, passphrase: str) -> None:
    """Choose the shop's passphrase, or another one, which turns every device out. Raises InvalidValue for one that is
    too short."""
    shop.keep(data, hashed(checked(passphrase)))


def given_passphrase(data: Path, passphrase: str) -> None:
    """The passphrase that the program is started with. The one it was started with before changes nothing, so that a
    start is no change, and one chosen on the page meanwhile stays. Raises InvalidValue."""
    kept = shop.kept(data)
    if kept is None or not (kept.given_hash and matches(passphrase, kept.given_hash)):
        if kept is not None and matches(passphrase, kept.passphrase_hash):
            shop.put(data, kept.passphrase_hash, kept.signing_key, kept.passphrase_hash)
            return
        hash_kept = hashed(checked(passphrase))
        shop.keep(data, hash_kept, given_hash=hash_kept)


def checked(passphrase: str) -> str:
    """A passphrase as it is kept. Raises InvalidValue for one that is too short or too long, or hardly of letters."""
    if not len(" ".join(passphrase.split())) >= LEAST_LETTERS or len(passphrase.strip()) > MOST_LETTERS:
        raise InvalidValue("passphrase", f"at least {LEAST_LETTERS} letters: a few words are best")
    if len(set(passphrase.strip().lower())) < LEAST_DIFFERENT:
        raise InvalidValue("passphrase", f"at least {LEAST_DIFFERENT} different letters: a few words are best")
    return passphrase.strip()


def hashed(secret: str) -> str:
    """The hash to keep of a passphrase or a PIN."""
    from pwdlib import PasswordHash

    return str(PasswordHash.recommended().hash(secret))


def matches(secret: str, kept_hash: str) -> bool:
    """Whether it is the one that was kept."""
    from pwdlib import PasswordHash

    return bool(PasswordHash.recommended().verify(secret.strip()[:MOST_LETTERS], kept_hash))


def stamp(kept: shop.Shop | None) -> str:
    """A short name for the passphrase that holds now: another one has another."""
    return "" if kept is None else hashlib.sha256(kept.signing_key.encode()).hexdigest()[:16]
