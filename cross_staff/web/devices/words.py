"""The instruments in words."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from cross_staff.core.rig.taken import GIVES, Taken
from cross_staff.core.stations import STATIONS
from cross_staff.devices.address import Address
from cross_staff.devices.hub import Received, Standing
from cross_staff.devices.protocol import UNITS
from cross_staff.services.devices import KeptDevice
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.moments import local_time

KINDS = {
    "chronograph": "chronograph: speed of the arrow",
    "inclinometer": "inclinometer: tilt of the bench, digital level",
    "rangefinder": "rangefinder: distance and slope",
    "scale": "scale: mass of the arrow",
    "caliper": "caliper: lengths, pencil marks",
}
STAND_IN_PORT = 7001
_STATES = {"trying": "being called", "connected": "connected", "away": "not there", "mistaken": "not listened to"}
_QUANTITIES = {"speed": "speed", "pitch": "angle", "roll": "angle", "slope": "angle", "distance": "distance",
               "mass": "mass", "length": "length"}  # fmt: skip
_NAMES = {station.key: station.name for station in STATIONS}


def line(kept: KeptDevice, standing: Standing | None, now: datetime) -> dict[str, Any]:
    """An instrument of the list."""
    seen = standing.seen if standing and standing.seen else kept.seen
    figures = GIVES[kept.kind]  # type: ignore[index]
    latest = [each for each in (standing.latest(figure) for figure in figures) if each] if standing else []
    state = standing.state if standing else "trying"
    odd = []
    if standing and standing.bad_lines:
        odd.append(f"{standing.bad_lines} lines were no good, the last one: {standing.last_bad}")
    if standing and standing.passed_over:
        odd.append(f"sends more than can be read: {standing.passed_over} lines were passed over")
    return {
        "device": kept.device,
        "name": kept.name,
        "kind": kept.kind,
        "address": str(Address(kept.host, kept.port)),
        "state": state,
        "stands": stands(standing),
        "seen": "never heard" if seen is None else f"last heard {local_time(seen)}",
        "latest": [reading(each, now) for each in latest],
        "odd": odd,
    }


def stands(standing: Standing | None) -> str:
    """How its connection is, and what it says of itself."""
    if standing is None:
        return _STATES["trying"]
    return ", ".join(filter(None, (_STATES[standing.state], standing.says)))


def reading(each: Received, now: datetime) -> str:
    """A reading with its age."""
    return f"{shown(each)}, {age((now - each.at).total_seconds())} ago"


def shown(each: Received) -> str:
    """A reading as the instrument shows it."""
    unit = UNITS[each.reading.kind][0]
    return f"{each.reading.kind} {trimmed(each.reading.value, 3)}{'°' if unit == 'deg' else f' {unit}'}"


def age(seconds: float) -> str:
    """How long ago, roundly."""
    if seconds < 100.0:
        return f"{max(seconds, 0.0):.0f} s"
    return f"{seconds / 60.0:.0f} min" if seconds < 6000.0 else f"{seconds / 3600.0:.0f} h"


def taken(each: Taken, units: Units) -> dict[str, str]:
    """What was taken, as a row."""
    quantity = _QUANTITIES[each.figure]
    return {
        "when": local_time(each.taken),
        "station": _NAMES.get(each.station, each.station),
        "field": each.field.replace("_", " ").replace("-", " "),
        "text": each.text,
        "gave": f"{units.plain(quantity, each.value_si)} {units.label(quantity)}",
        "instrument": each.instrument,
    }
