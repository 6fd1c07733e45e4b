"""After a knock: which joint moved, by a few arrows on a plumb line and the witness marks."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from cross_staff.core.ballistics.cant import Case, falls
from cross_staff.core.ballistics.flight import Array, RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.priors import Known


class Seen(StrEnum):
    """What a witness mark showed."""

    NOT_LOOKED = ""
    STANDS = "stands"
    MOVED = "moved"


# chance that a mark shows it: of a joint that moved, of one that did not
_SHOWS = {Seen.NOT_LOOKED: (1.0, 1.0), Seen.STANDS: (0.1, 0.97), Seen.MOVED: (0.9, 0.03)}
NONE, SEVERAL = "none", "several"


@dataclass(frozen=True)
class TriageJoint:
    """A joint that a knock can move: the name of its witness mark; how often it is the one; how far it goes, one sd, in
    each way: the sight's pins up or down and sideways at the sight [mm], its rail leaning, its vial [deg], the sight
    nearer or farther [mm], the arrow leaving up or down and sideways [mrad], the peep up or down [mm]; the cause of the
    table that it is; the cheapest check, and what mends it."""

    key: str
    mark: str
    often: float
    moves: Mapping[str, float]
    cause: str
    check: str
    mend: str

    def __hash__(self) -> int:
        return hash(self.key)


JOINTS = (
    TriageJoint("pointer", "pointer", 0.14, {"up_mm": 1.5}, "indicator",
                "hold the pointer's witness line against its scale",
                "set the pointer back to its witness line, lock it"),
    TriageJoint("head", "housing on its post", 0.15, {"up_mm": 1.5, "side_mm": 1.5}, "knock",
                "look along the witness line across housing and post, and wiggle it",
                "bring the line together, lock, read the second axis again"),
    TriageJoint("rail", "rail block", 0.13, {"lean_deg": 1.0, "up_mm": 0.4, "side_mm": 0.6}, "knock",
                "bow plumb: dial from end to end along a plumb line; do the pins stay on it?",
                "bring the block's line together, lock, read the first axis again"),
    TriageJoint("vial", "second axis", 0.06, {"vial_deg": 1.0}, "axis_screw",
                "bow plumb by its string: does the bubble stand in the middle?",
                "set the second axis again"),
    TriageJoint("mount", "mount on the riser", 0.14, {"up_mm": 1.5, "side_mm": 1.5, "lean_deg": 0.6}, "sight_off",
                "try each mount bolt with its key, and look at the line across mount and riser",
                "seat the mount on its line, tighten as its maker says, level again"),
    TriageJoint("dovetail", "dovetail place", 0.05, {"ahead_mm": 6.0, "up_mm": 0.3, "side_mm": 0.3}, "dovetail",
                "measure eye to sight, or look whether the detent is the one on the card",
                "put the extension back into its detent"),
    TriageJoint("rest", "rest", 0.16, {"leaves_up_mrad": 1.5, "leaves_side_mrad": 1.5}, "rest",
                "look at the rest's witness lines, both ways; then one arrow through paper",
                "set the rest back to its lines, paper again, then home and windage"),
    TriageJoint("nock", "nock set", 0.05, {"leaves_up_mrad": 1.5}, "nocking_point",
                "look whether nock set or loop slid on the serving",
                "set the nocking point back, paper again, then home"),
    TriageJoint("peep", "peep", 0.05, {"peep_mm": 2.0}, "peep",
                "measure the peep's place on the string against the card",
                "slide the peep back to its mark, and tie it"),
)  # fmt: skip
OFTEN_NONE, OFTEN_SEVERAL = 0.17, 0.04
LIKELY, CLEAR = 0.5, 0.9  # from when a joint is named, and from when it is said that none moved


@dataclass(frozen=True)
class KnockGroup:
    """A group after the knock, on a plumb line: distance from the sight plane [m], arrows, how far right and up of
    where it used to be its middle lies [m], None where it was not noted."""

    distance_m: float
    arrows: int
    right_m: float | None
    up_m: float | None


@dataclass(frozen=True)
class JointChance:
    """A joint with the chance that it is the one that moved, None for no joint or several of them by its key; by how
    much, in its own ways."""

    key: str
    joint: TriageJoint | None
    chance: float
    moved: dict[str, Known] = field(default_factory=dict)

    @property
    def told(self) -> bool:
        """Whether it is likely enough to be named."""
        return self.chance >= (CLEAR if self.key == NONE else LIKELY)


def triage(
    figures: RigFigures,
    reference_m: float,
    groups: Sequence[KnockGroup],
    scatter_mrad: tuple[float, float],
    seen: Mapping[str, Seen],
) -> tuple[JointChance, ...]:
    """Which joint moved, the likeliest first.

    Each joint moves the arrows in ways of its own, as far as is usual; Bayes' rule over one joint, none, or several,
    with the groups (a day's own offset among them) and what the witness marks showed.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_m: home [m] from the sight plane.
        groups: since the knock, shape (n,).
        scatter_mrad: one sd of an arrow, and of a day [mrad], shape (2,).
        seen: what each joint's witness mark showed, by the key of the joint.

    Returns:
        every joint, no joint, and several, with their chances.

    Raises:
        InvalidValue: with neither a group nor a mark that was looked at.
        OutOfReach: for a group that the arrow does not reach.

    Source:
        docs/method.md, section 20.
    """
    if not groups and not any(seen.values()):
        raise InvalidValue("groups", "shoot a few arrows at two distances, or look at the witness marks")
    said, noise = _said(groups, scatter_mrad)
    ways = ways_of(figures, reference_m, groups)
    logs: list[float] = []
    moved: list[dict[str, Known]] = []
    for joint in JOINTS:
        columns = np.column_stack([ways[way] * sd for way, sd in joint.moves.items()])
        likely, amounts = _likely(said, noise, columns)
        logs.append(likely + math.log(joint.often) + _marks(seen, joint.key))
        moved.append({way: Known(v * sd, s * sd) for (way, sd), (v, s) in zip(joint.moves.items(), amounts)})
    logs.append(_likely(said, noise, np.zeros((len(said), 0)))[0] + math.log(OFTEN_NONE) + _marks(seen, ""))
    several = np.column_stack([ways[way] * sd for joint in JOINTS for way, sd in joint.moves.items()])
    logs.append(_likely(said, noise, several)[0] + math.log(OFTEN_SEVERAL) + _marks(seen, None))
    chances = np.exp(np.array(logs) - max(logs))
    chances /= chances.sum()
    told = [JointChance(joint.key, joint, float(c), m) for joint, c, m in zip(JOINTS, chances, moved)]
    told += [JointChance(NONE, None, float(chances[-2])), JointChance(SEVERAL, None, float(chances[-1]))]
    return tuple(sorted(told, key=lambda each: -each.chance))


def _marks(seen: Mapping[str, Seen], which: str | None) -> float:
    """Ln chance of what the marks showed, one joint having moved, none ("") or any of them (None)."""
    total = 0.0
    for joint in JOINTS:
        of_moved, of_not = _SHOWS[seen.get(joint.key, Seen.NOT_LOOKED)]
        chance = 0.5 * (of_moved + of_not) if which is None else of_moved if joint.key == which else of_not
        total += math.log(chance)
    return total


def _said(groups: Sequence[KnockGroup], scatter_mrad: tuple[float, float]) -> tuple[Array, Array]:
    """What the groups say, up then right [m], and its covariance: a direction that was not noted says nothing."""
    spread, day = (1e-3 * each for each in scatter_mrad)
    said, distance, own, vertical = [], [], [], []
    for group in groups:
        for away, is_up in ((group.up_m, True), (group.right_m, False)):
            said.append(away or 0.0)
            distance.append(group.distance_m)
            vertical.append(is_up)
            own.append((spread * group.distance_m) ** 2 / group.arrows if away is not None else 1e4)
    d, way = np.array(distance), np.array(vertical)
    shared = np.outer(d, d) * day**2 * (way[:, None] == way[None, :]) if len(d) else np.zeros((0, 0))
    return np.array(said), np.diag(own) + shared if len(d) else np.zeros((0, 0))


def ways_of(figures: RigFigures, reference_m: float, groups: Sequence[KnockGroup]) -> dict[str, Array]:
    """What a unit of each way does to every group.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_m: home [m] from the sight plane.
        groups: shape (n,).

    Returns:
        by the way, up then right of each group [m for mm, deg or mrad], shape (2 n,).

    Raises:
        OutOfReach: for a group that the arrow does not reach.

    Source:
        docs/method.md, section 20.
    """
    lever, home = figures.eye_to_sight_m, pin_height(figures, reference_m)
    rows: dict[str, list[tuple[float, float]]] = {
        name: [] for name in ("up_mm", "side_mm", "lean_deg", "vial_deg", "ahead_mm", "leaves_up_mrad",
                              "leaves_side_mrad", "peep_mm")
    }  # fmt: skip
    for group, known in zip(groups, falls(figures, tuple(Case(g.distance_m, 0.0) for g in groups))):
        if known is None:
            raise OutOfReach(f"{group.distance_m:g} m is out of reach of this arrow")
        fall, _, height = known
        reach, degree, down = (lever + group.distance_m) / lever, math.radians(1.0), home - height
        rows["up_mm"].append((-1e-3 * reach, 0.0))  # the pin goes up, the arrow down
        rows["side_mm"].append((0.0, -1e-3 * reach))
        rows["lean_deg"].append((0.0, down * reach * degree))
        rows["vial_deg"].append((0.0, -fall * degree))
        rows["ahead_mm"].append((1e-3 * down / lever * reach, 0.0))
        rows["leaves_up_mrad"].append((1e-3 * group.distance_m, 0.0))
        rows["leaves_side_mrad"].append((0.0, 1e-3 * group.distance_m))
        rows["peep_mm"].append((1e-3 * group.distance_m / lever, 0.0))
    return {name: np.array(pairs, dtype=float).reshape(-1) for name, pairs in rows.items()}


def _likely(said: Array, noise: Array, columns: Array) -> tuple[float, list[tuple[float, float]]]:
    """Ln likelihood of what the groups say, and how far each way went, in its usual sizes."""
    count = columns.shape[1]
    if not len(said):
        return 0.0, [(0.0, 1.0)] * count
    whole = noise + columns @ columns.T
    solved = np.linalg.solve(whole, said)
    likely = -0.5 * float(said @ solved + np.linalg.slogdet(whole)[1])
    means = columns.T @ solved
    left = np.eye(count) - columns.T @ np.linalg.solve(whole, columns)
    return likely, [(float(m), math.sqrt(max(float(v), 0.0))) for m, v in zip(means, np.diag(left))]
