"""Coordinates of the range's drawings: the target that is tapped on, and the pins in the housing."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.sight_in.acts import MOVE, Act
from cross_staff.core.sight_in.aims import AimState
from cross_staff.services.sight_in.page import RangePage
from cross_staff.web.sight_in.words import on_target_m, target_scale

SIDE = 560.0
MIDDLE = SIDE / 2.0
FACES = {"dot": "plain dot", "ring": "ring", "cross": "cross"}
FACE_M = 0.12
LEAST_HALF_MM, MOST_HALF_MM = 60.0, 1000.0
NICE_MM = (50.0, 100.0, 150.0, 200.0, 300.0, 400.0, 600.0, 1000.0)


@dataclass(frozen=True)
class ShotSpot:
    """A shot that was kept already [mm from the aim, up positive]."""

    x: float
    y: float
    bad: bool
    words: str


@dataclass(frozen=True)
class TargetDrawing:
    """The target: half of its side [mm], pixels a millimetre, the face and its radius [mm], shots since
    the last movement, the middle of all arrows with twice its sds, and where the next group should
    land with its usual radius; None where not known."""

    half_mm: float
    face: str
    face_mm: float
    spots: tuple[ShotSpot, ...]
    mean: tuple[float, float, float, float] | None
    after: tuple[float, float, float] | None

    @property
    def per_mm(self) -> float:
        return MIDDLE / self.half_mm

    @property
    def lines(self) -> tuple[tuple[float, float, str], ...]:
        """Rings of distance from the aim: fraction of the half side, radius, and its label [mm]."""
        return tuple((part, part * MIDDLE, f"{part * self.half_mm:.0f}") for part in (0.25, 0.5, 0.75))

    @property
    def inner_face_mm(self) -> float:
        return self.face_mm / 2.0

    @property
    def shot_mm(self) -> float:
        """Radius of a shot that was kept already."""
        return self.half_mm / 75.0

    @property
    def mean_at(self) -> tuple[float, float]:
        """Where the middle of all arrows is drawn; the middle of the target where it is not known."""
        right, up = self.mean[:2] if self.mean else (0.0, 0.0)
        return MIDDLE + self.per_mm * right, MIDDLE - self.per_mm * up


def target(page: RangePage) -> TargetDrawing:
    """The target of the aim in hand."""
    rig, act, ends = page.rig, page.rig.range.act, page.recent
    said = rig.range_log.said.get("face")
    face_m = (said.number if said and said.number else None) or FACE_M
    spots = tuple(
        ShotSpot(1000.0 * s.right_m, 1000.0 * s.up_m, s.called_bad, f"end {end.order}")
        for end in ends
        for s in end.shots
    )
    at = act.at
    spread = 0.0 if at is None else 1000.0 * at.standing.spread * target_scale(rig, at.aim)
    near = [max(abs(s.x), abs(s.y)) for s in spots if not s.bad]
    # one that is far off does not make the others small, unless it is the one that is asked about
    usual = sorted(near)[(9 * len(near)) // 10 - 1 :][:1] if len(near) > 3 and act.odd is None else near
    widest = max([750.0 * face_m, 4.0 * spread, *(1.15 * far for far in usual)])
    half = next((h for h in NICE_MM if h >= widest), MOST_HALF_MM)
    mean, after = _centres(page, act, at)
    return TargetDrawing(half, said.choice if said else "dot", 500.0 * face_m, spots, mean, after)


def _centres(
    page: RangePage, act: Act, at: AimState | None
) -> tuple[tuple[float, float, float, float] | None, tuple[float, float, float] | None]:
    if at is None or not at.standing.arrows or max(at.standing.sd) > 20.0:
        return None, None
    right, up = (1000.0 * v for v in on_target_m(page.rig, at))
    scale = 1000.0 * target_scale(page.rig, at.aim)
    mean = (right, up, 1.96 * at.standing.sd[0] * scale, 1.96 * at.standing.sd[1] * scale)
    usual = 1000.0 * (page.usual_radius_m or at.circle_m / 1.5)
    if act.kind != MOVE:
        return mean, None
    sideways = sum(a.moved_mm for a in act.moves if a.way in ("left", "right")) * scale
    height = sum(a.moved_mm for a in act.moves if a.way in ("up", "down")) * scale
    return mean, (right - sideways, up - height, usual)
