"""Instruments that are not there: what they would send, with the faults that real ones have. Nothing here listens.

Times are seconds since a stand-in was switched on; what it sends follows from its settings and its seed alone.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Literal, get_args

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.taken import GIVES, Figure, Kind
from cross_staff.devices.protocol import PROTOCOL, UNITS, Hello, Reading, Status, line_of

Fault = Literal["warm_up", "dropouts", "doubles", "wrong_units", "bad_lines", "leaves"]
FAULTS: tuple[Fault, ...] = get_args(Fault)
# of each figure, in its unit on the wire: what is measured unless said, its scatter, the last digit that is shown
TRUTH: dict[Figure, tuple[float, float, float]] = {
    "speed": (81.0, 0.35, 0.1),
    "pitch": (0.0, 0.04, 0.05),
    "roll": (0.0, 0.03, 0.05),
    "distance": (38.0, 0.15, 0.1),
    "slope": (0.0, 0.15, 0.1),
    "mass": (26.7, 0.01, 0.01),
    "length": (6.5, 0.01, 0.01),
}
EVERY_S: dict[Kind, float] = {"chronograph": 4.0, "inclinometer": 0.2, "rangefinder": 3.0, "scale": 0.5, "caliper": 0.5}
WARM_UP_S, STATUS_S = 8.0, 20.0
DRIFT_COLD = {"inclinometer": 0.6, "scale": 0.15}  # how far it reads too much when it is switched on, wearing off
LEAVES_EVERY_S, AWAY_S = 40.0, 4.0
DROPOUT, DOUBLE, WRONG_UNIT, BAD_LINE = 0.12, 0.2, 0.06, 0.06  # of all readings
_OTHER_UNIT = {"m/s": "fps", "deg": "mrad", "m": "yd", "g": "gr", "mm": "in"}
_NONSENSE = (
    b'{"type": "reading", "kind"\n',
    b"E04 LOW LIGHT\n",
    b'{"type": "reading", "kind": "speed", "value": NaN, "unit": "m/s", "resolution": 0.1, "time": 1, "sequence": 1}\n',
    b"\xff\xfe\x00{}\n",
    b'{"type": "greeting"}\n',
)


@dataclass
class StandIn:
    """A made-up instrument: its kind, its name, what it measures (in the units of the wire), its seed, its faults."""

    kind: Kind
    name: str = ""
    truth: dict[Figure, float] = field(default_factory=dict)
    seed: int = 1
    faults: frozenset[Fault] = frozenset()

    def __post_init__(self) -> None:
        self._random = np.random.default_rng(self.seed)
        self._sequence = 0
        self._next_s = EVERY_S[self.kind]
        self._status_s = 0.0

    def hello(self, now_s: float = 0.0) -> bytes:
        """What it says to whoever connects: who it is, and how."""
        name = self.name or f"stand-in {self.kind}"
        return line_of(Hello(protocol=PROTOCOL, kind=self.kind, name=name)) + self._status(now_s)

    def _status(self, time_s: float) -> bytes:
        return line_of(Status(state="warming" if self._cold(time_s) else "ready"))

    def away(self, now_s: float) -> bool:
        """Whether it has gone just now, to come back."""
        return "leaves" in self.faults and now_s % LEAVES_EVERY_S > LEAVES_EVERY_S - AWAY_S

    def lines(self, now_s: float) -> Iterator[bytes]:
        """All that it sends up to now and has not sent yet, in its order."""
        while min(self._next_s, self._status_s) <= now_s:
            if self._status_s <= self._next_s:
                yield self._status(self._status_s)
                self._status_s += min(STATUS_S, WARM_UP_S) if self._cold(self._status_s) else STATUS_S
            else:
                yield from self._look(self._next_s)
                self._next_s += EVERY_S[self.kind]

    def _cold(self, time_s: float) -> bool:
        return "warm_up" in self.faults and time_s < WARM_UP_S

    def _happens(self, fault: Fault, chance: float) -> bool:
        return bool(self._random.random() < chance) and fault in self.faults

    def _look(self, time_s: float) -> Iterator[bytes]:
        """One look: its figures, or what becomes of them."""
        self._sequence += 1
        if self._happens("dropouts", DROPOUT):
            return
        if self._happens("bad_lines", BAD_LINE):
            yield _NONSENSE[int(self._random.integers(len(_NONSENSE)))]
            return
        wrong = self._happens("wrong_units", WRONG_UNIT)
        for figure in GIVES[self.kind]:
            reading = self._reading(figure, time_s)
            line = line_of(reading)
            if wrong:
                unit = UNITS[figure][0]
                line = line.replace(f'"unit": "{unit}"'.encode(), f'"unit": "{_OTHER_UNIT[unit]}"'.encode())
            yield line
            if self._happens("doubles", DOUBLE):
                if self.kind == "chronograph" and self._random.random() < 0.5:  # triggered twice by one arrow
                    self._sequence += 1
                    yield line_of(self._reading(figure, time_s + 0.08))
                else:
                    yield line

    def _reading(self, figure: Figure, time_s: float) -> Reading:
        middle, scatter, resolution = TRUTH[figure]
        value = self.truth.get(figure, middle) + float(self._random.normal(0.0, scatter))
        if self._cold(time_s):
            value += DRIFT_COLD.get(self.kind, 0.0) * math.exp(-3.0 * time_s / WARM_UP_S)
        shown = round(round(value / resolution) * resolution, 6)
        return Reading(
            kind=figure,
            value=shown,
            unit=UNITS[figure][0],
            resolution=resolution,
            time=round(time_s, 3),
            sequence=self._sequence,
        )


def stand_in(kind: str, values: Iterable[str], faults: str, seed: int) -> StandIn:
    """A stand-in by words.

    Args:
        kind: one of those that there are.
        values: what it measures, each as figure=number in the unit of the wire.
        faults: `all`, `none`, or some of FAULTS with commas between.
        seed: of its scatter and its faults.

    Returns:
        The stand-in.

    Raises:
        InvalidValue: at `kind`, `value` or `faults`, with what there is.

    Source:
        docs/instruments.md.
    """
    if kind not in GIVES:
        raise InvalidValue("kind", f"one of {', '.join(GIVES)}")
    truth: dict[Figure, float] = {}
    for each in values:
        figure, _, number = each.partition("=")
        try:
            truth[figure] = float(number)  # type: ignore[index]
        except ValueError:
            raise InvalidValue("value", f"“{each}” is no figure=number, such as speed=81.4") from None
    unknown = set(truth) - set(GIVES[kind])
    if unknown or not all(map(math.isfinite, truth.values())):
        raise InvalidValue("value", f"a {kind} gives {' and '.join(GIVES[kind])}")
    wanted = set(FAULTS) if faults == "all" else {each.strip() for each in faults.split(",")} - {"", "none"}
    if wanted - set(FAULTS):
        raise InvalidValue("faults", f"all, none, or some of {', '.join(FAULTS)}")
    return StandIn(kind, truth=truth, seed=seed, faults=frozenset(wanted))  # type: ignore[arg-type]
