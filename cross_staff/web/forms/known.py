"""Which fields the forms of a station have: a form that brings another one is refused, as nothing would keep it."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from starlette.requests import Request

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.events import CAUSES
from cross_staff.web.forms.merge import CHOICE

MEANT = "meant_"  # what a new value means, by its cause
TAKEN = "taken"  # what came from instruments
EVERYWHERE = ("based_on", "seen", TAKEN, *(f"{MEANT}{cause}" for cause in CAUSES))
_NUMBER = re.compile("[0-9]+")


def known_by(fields: Iterable[str]) -> Callable[[Request], None]:
    """What tells the forms of some routers which fields they have. A field of a numbered row has # for its number."""
    known = frozenset((*EVERYWHERE, *fields))

    def tell(request: Request) -> None:
        request.state.known_fields = known

    return tell


def refuse_unknown(request: Request, names: Iterable[str]) -> None:
    """Raises InvalidValue, by its name, at a field that no form of the station has."""
    known: frozenset[str] = request.state.known_fields
    for name in names:
        if not name.startswith(CHOICE) and _NUMBER.sub("#", name) not in known:
            raise InvalidValue(f"the field “{name[:40]}”", "no form here has it. Nothing was kept: open the page anew")
