"""What belongs to the shop and not to a rig: the passphrase, hashed, and the key that names it."""

from __future__ import annotations

import json
import secrets
from dataclasses import asdict, dataclass
from pathlib import Path

from cross_staff.storage.files import put_file

FILE = "shop.json"


@dataclass(frozen=True)
class Shop:
    """The passphrase as its hash, and the key that names it: a new passphrase brings a new key, so that every phone is
    asked again."""

    passphrase_hash: str
    signing_key: str
    given_hash: str = ""  # of the one that the program was started with


def kept(data: Path) -> Shop | None:
    """What is kept in the data folder; None before a passphrase was chosen."""
    try:
        return Shop(**json.loads((data / FILE).read_text(encoding="utf-8")))
    except FileNotFoundError:
        return None


def keep(data: Path, passphrase_hash: str, given_hash: str = "") -> Shop:
    """Keep a passphrase's hash with a fresh key, readable by the owner alone."""
    return put(data, passphrase_hash, secrets.token_hex(32), given_hash)


def put(data: Path, passphrase_hash: str, signing_key: str, given_hash: str) -> Shop:
    """The same with a key that there is."""
    shop = Shop(passphrase_hash, signing_key, given_hash)
    data.mkdir(parents=True, exist_ok=True)
    put_file(data / FILE, json.dumps(asdict(shop)).encode())
    return shop
