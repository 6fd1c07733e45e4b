"""The shop's own levels and jigs: entered once, chosen on a rig."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from typing import Any

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import INSTRUMENT_KINDS, LevelSetup, Vial

USUAL_DAYS = 180
DAYS = Range(1.0, 2000.0)


@dataclass(frozen=True)
class Instrument:
    """A level or a jig: its name, what it is (a key of INSTRUMENT_KINDS), its vial with what a reversal showed; the
    day on which its clip was proved to sit square on a string (None: it was not); days between reversals."""

    name: str = ""
    kind: str = "reference"
    vial: Vial = field(default_factory=Vial)
    clip_proved_on: date | None = None
    reverse_days: int = USUAL_DAYS
    note: str = ""


def check_instrument(instrument: Instrument) -> None:
    """Refuse an instrument that cannot be. Raises InvalidValue."""
    if not instrument.name.strip():
        raise InvalidValue("name", "what is it called? It is chosen by its name")
    if instrument.kind not in INSTRUMENT_KINDS:
        raise InvalidValue("kind", "choose one of the list")
    if not DAYS.holds(float(instrument.reverse_days)):
        raise InvalidValue("reverse_days", "between 1 and 2000 days")


def overdue(vial: Vial, today: date, days: int = USUAL_DAYS) -> int | None:
    """Days since a reversal that is due again; None while it is not, or before the first.

    Args:
        vial: with the day of its reversal.
        today: the day to judge it on.
        days: between reversals.

    Returns:
        days since the reversal, or None.

    Source:
        a rule of the craft.
    """
    if vial.reversed_on is None or today <= vial.reversed_on + timedelta(days=days):
        return None
    return (today - vial.reversed_on).days


def fitted(setup: LevelSetup, kind: str, number: int | None, instrument: Instrument | None) -> LevelSetup:
    """A rig's setup with one of the shop's instruments in place of a vial.

    Args:
        setup: of the rig.
        kind: which of its vials, a key of INSTRUMENT_KINDS.
        number: which instrument; None for one of the rig's own, whose figures stay as they are.
        instrument: that one.

    Returns:
        the setup with a copy of the instrument's vial.

    Source:
        a rule of the craft.
    """
    changes: dict[str, Any] = {"from_shop": tuple(pair for pair in setup.from_shop if pair[0] != kind)}
    if kind == "reference":
        changes["clip_proved"] = instrument is not None and instrument.clip_proved_on is not None
    if instrument is not None and number is not None:
        changes["from_shop"] = tuple(sorted((*changes["from_shop"], (kind, number))))
        changes[kind] = instrument.vial
    return replace(setup, **changes)


def outdated(setup: LevelSetup, kind: str, instrument: Instrument) -> bool:
    """Whether the shop knows other figures of an instrument by now than a rig has of it."""
    proved = kind == "reference" and setup.clip_proved != (instrument.clip_proved_on is not None)
    return getattr(setup, kind) != instrument.vial or proved
