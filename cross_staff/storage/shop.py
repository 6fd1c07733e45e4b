"""What belongs to the shop and not to a rig: the passphrase, hashed, and the key that signs cookies."""

from __future__ import annotations

import json
import secrets
from dataclasses import asdict, dataclass
from pathlib import Path

from cross_staff.storage.files import put_file

FILE = "shop.json"


@dataclass(frozen=True)
class Shop:
    """The passphrase as its hash, and the key that signs cookies: a new passphrase brings a new key, so
    that every phone is asked again."""

    passphrase_hash: str
    signing_key: str


def kept(data: Path) -> Shop | None:
    """What is kept in the data folder; None before a passphrase was chosen."""
    try:
        return Shop(**json.loads((data / FILE).read_text(encoding="utf-8")))
    except FileNotFoundError:
        return None


def keep(data: Path, passphrase_hash: str) -> Shop:
    """Keep a passphrase's hash with a fresh signing key, readable by the owner alone."""
    shop = Shop(passphrase_hash, secrets.token_hex(32))
    data.mkdir(parents=True, exist_ok=True)
    put_file(data / FILE, json.dumps(asdict(shop)).encode())
    return shop
