"""What a tape is fitted to: marks and groups, and other arrows that some were shot with."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Observation:
    """A mark or a group: the sight stood at mark_mm, the arrows came in up_m above the aim.

    distance_m [m]; mark_mm from any zero [mm]; reading_sd_mm of the mark [mm]; up_m [m] with its
    standard error up_se_m [m]. A mark is a group with up 0 and se 0. pin: which one was aimed with, 0 the
    top one; pins at different heights share one flight, each with a mark zero of its own. session: the day it was
    shot on, whose own offset all its arrows share; None where it had none. ruler: what its mark was read off, empty for
    the sight's own scale. arrow: with which of the fit's other arrows it was shot, counted from 1; nought: its own.
    """

    distance_m: float
    mark_mm: float
    reading_sd_mm: float
    up_m: float = 0.0
    up_se_m: float = 0.0
    kind: str = "mark"
    pin: int = 0
    session: str | None = None
    ruler: str = ""
    arrow: int = 0


@dataclass(frozen=True)
class OtherArrow:
    """Another arrow of the same bow beside the one that is fitted: the logarithms of its speed and its drag over that
    one's, each with its sd [-], and one sd of how much higher or lower it leaves [mrad]."""

    speed_ln: float
    speed_sd_ln: float
    drag_ln: float
    drag_sd_ln: float
    launch_sd_mrad: float

    @property
    def sds(self) -> tuple[float, float, float]:
        """Of what is fitted of it."""
        return self.speed_sd_ln, self.drag_sd_ln, self.launch_sd_mrad
