"""What is known of a rig before any mark."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.ballistics.flight import RigFigures


@dataclass(frozen=True)
class Known:
    """A value with its sd; of drag the sd is that of the logarithm. sd None is unknown."""

    value: float
    sd: float | None


@dataclass(frozen=True)
class Priors:
    """What is known before any mark: speed [m/s], drag [1/m] with sd of its logarithm, eye-to-sight
    [m], peep height [m], tape ratio [mm/mm] (sd 0 exact, None unknown: fitted with sd 1 in ln)."""

    speed_mps: Known
    drag_per_m: Known
    eye_to_sight_m: Known
    peep_height_m: Known
    tape_ratio: Known = Known(1.0, 0.0)

    @property
    def figures(self) -> RigFigures:
        """The figures before any mark."""
        return RigFigures(
            self.speed_mps.value,
            self.drag_per_m.value,
            self.eye_to_sight_m.value,
            self.peep_height_m.value,
        )
