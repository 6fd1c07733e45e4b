"""What counts of everything that was shot: ends that still hold, the archer's spread, shots far from the others."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property

from cross_staff.core.estimation.groups import KNOWN_FREEDOM, suspects
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import DAY_PART
from cross_staff.core.sight_in.dispersion import Dispersion, pooled_dispersion
from cross_staff.core.sight_in.log import End, RangeLog
from cross_staff.core.sight_in.procedures import answers, pin_distances
from cross_staff.core.tape.fit import Fit


class Counted:
    """The ends of a log that count, for a card and a flight. Millimetres are at the sight plane.

    Args: as AimEstimate has them.
    """

    def __init__(
        self,
        card: RigCard,
        log: RangeLog,
        fit: Fit,
        holds: Mapping[str, frozenset[int]] | None = None,
        spans: Mapping[int, int] | None = None,
    ) -> None:
        self.card, self.log, self.fit = card, log, fit
        self.holds, self.spans = holds or {}, spans or {}
        self.chosen = answers(card, log.chosen)
        self.distances = pin_distances(card, self.chosen)
        self.lever = fit.figures.eye_to_sight_m
        self.kind = card.sight_kind

    def holds_for(self, result: str, revision: int) -> bool:
        return result not in self.holds or revision in self.holds[result]

    def still_true(self, end: End) -> bool:
        """Whether an end still speaks for the rig as it is, for height and windage."""
        return self.holds_for("windage", end.revision) and self.holds_for("home", end.revision)

    @cached_property
    def counted(self) -> tuple[End, ...]:
        """Ends that count: with kept shots, at a known distance, of a session that counts, still true."""
        return tuple(
            end
            for end in self.log.ends
            if end.arrows and end.ranged_m is not None and not end.left_out and self.log.weight(end) > 0.0
        )

    @cached_property
    def standing(self) -> tuple[End, ...]:
        """Ends that count and still speak for the rig as it is; where only the zero moved, the ones before it too,
        once an arrow was shot since."""
        fresh = tuple(end for end in self.counted if self.still_true(end))
        if not fresh or not self.spans:
            return fresh
        return tuple(end for end in self.counted if self.still_true(end) or end.revision in self.spans)

    @cached_property
    def spread(self) -> Dispersion:
        return pooled_dispersion(self.card, self.counted)

    def spread_mm(self, ranged_m: float) -> float:
        """One sd of an arrow [mm at the sight plane]."""
        distance = self.card.distance_from_sight(ranged_m)
        return self.spread.mrad * distance * self.lever / (self.lever + distance)

    def se_mm(self, end: End) -> float:
        """The sd of an end's mean [mm at the sight plane]."""
        assert end.ranged_m is not None
        return self.spread_mm(end.ranged_m) / math.sqrt(end.arrows * self.log.weight(end))

    def suspects(self, end: End) -> tuple[int, ...]:
        """Indexes of an end's shots that lie far from its others, by the archer's own spread."""
        if end.ranged_m is None or end.arrows < 3:
            return ()
        spread = 1e-3 * self.spread.mrad * self.card.distance_from_sight(end.ranged_m)
        freedom = KNOWN_FREEDOM if self.spread.freedom is None else 0.5 * self.spread.freedom
        return suspects(end.shots, spread if self.spread.known else None, freedom)

    def without_suspects(self, end: End) -> End:
        """An end without the shots that lie far from its others: one arrow is another question."""
        odd = self.suspects(end)
        shots = tuple(replace(s, called_bad=True) if n in odd else s for n, s in enumerate(end.shots))
        return replace(end, shots=shots) if odd else end

    def day_mm(self, ranged_m: float) -> float:
        """How far a day may set all arrows of a visit off in height, one sd [mm at the sight plane]."""
        return DAY_PART * self.spread_mm(ranged_m)
