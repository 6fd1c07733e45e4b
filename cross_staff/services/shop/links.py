"""Links by which an archer sees his rig, and nothing else: signed each with a secret of its own, ended by hand or by a
day."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.storage import archer_links, rigs
from cross_staff.storage.archer_links import ArcherLink
from cross_staff.storage.database import Database

USUAL_DAYS, MOST_DAYS, MOST = 60, 400, 12
_SALT = "cross-staff link of an archer"


def make(database: Database, rig_id: int, days: int, by: str, now: datetime) -> str:
    """A new link; returns its token. Raises: NotFound; InvalidValue: too few or many days, too many links."""
    if not 1 <= days <= MOST_DAYS:
        raise InvalidValue("days", f"1 to {MOST_DAYS} days")
    with database.writing() as connection:
        rigs.latest(connection, rig_id)
        if sum(each.opens(now) for each in archer_links.of_rig(connection, rig_id)) >= MOST:
            raise InvalidValue("days", f"{MOST} links of this rig open it already: end one first")
        secret = secrets.token_hex(32)
        number = archer_links.add(connection, rig_id, secret, by, now, now + timedelta(days=days))
    return _signer(secret).sign(str(number)).decode()


def of_rig(database: Database, rig_id: int) -> list[ArcherLink]:
    """Every link of a rig, the newest first."""
    with database.reading() as connection:
        return archer_links.of_rig(connection, rig_id)


def token_of(link: ArcherLink) -> str:
    """The token of a link, as it stands in its address."""
    return str(_signer(link.secret).sign(str(link.link)).decode())


def opened(database: Database, token: str, now: datetime) -> ArcherLink | None:
    """The link of a token, and that it was opened; None where it ended. Raises NotFound for a token that is none."""
    from itsdangerous import BadSignature

    number = token.partition(".")[0]
    with database.reading() as connection:
        link = archer_links.find(connection, int(number)) if number.isdecimal() and len(number) < 15 else None
    try:
        signed = link is not None and _signer(link.secret).unsign(token) == number.encode()
    except BadSignature:
        signed = False
    if link is None or not signed:
        raise NotFound("there is nothing at this address")
    if not link.opens(now):
        return None
    if link.opened is None or abs(now - link.opened) > timedelta(minutes=10):
        with database.writing() as connection:
            archer_links.opened(connection, link.link, now)
    return link


def end(database: Database, rig_id: int, number: int, now: datetime) -> None:
    """It opens nothing any more. Raises NotFound."""
    with database.writing() as connection:
        link = archer_links.find(connection, number)
        if link is None or link.rig_id != rig_id:
            raise NotFound("this rig has no such link")
        archer_links.end(connection, number, now)


def _signer(secret: str):  # type: ignore[no-untyped-def]
    from itsdangerous import Signer

    return Signer(secret, salt=_SALT)
