"""What a page's script is told of the instruments."""

from __future__ import annotations

import time
from typing import Any

from cross_staff.devices.hub import Hub, Received, Standing
from cross_staff.devices.protocol import UNITS
from cross_staff.web.devices import words


def news(hub: Hub, after: int) -> dict[str, Any]:
    """Every instrument as it stands, with the latest of each figure and all that came after a number; `run` is another
    one once the program was started anew, and numbers begin again."""
    now = time.monotonic()
    return {"run": hub.run, "instruments": [_told(each, after, now) for each in hub.standings()]}


def _told(standing: Standing, after: int, now: float) -> dict[str, Any]:
    latest = {each.reading.kind: each for each in standing.readings if not each.double}
    came = {each.number: each for each in (*latest.values(), *(r for r in standing.readings if r.number > after))}
    return {
        "device": standing.device.device,
        "name": standing.device.name,
        "state": standing.state,
        "stands": words.stands(standing),
        "ready": standing.ready,
        "readings": [_reading(came[number], now) for number in sorted(came)],
    }


def _reading(each: Received, now: float) -> dict[str, Any]:
    reading = each.reading
    return {
        "number": each.number,
        "shown": words.shown(each),
        "figure": reading.kind,
        "si": reading.si,
        "resolution": reading.resolution * UNITS[reading.kind][1],
        "sequence": reading.sequence,
        "age": round(now - each.monotonic_s, 2),
        "at": each.at.isoformat(),
        "double": each.double,
        "ready": each.ready,
    }
