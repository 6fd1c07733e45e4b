"""Eight things that are believed wrongly, each as a picture of two numbers and what moves them."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from cross_staff.core.ballistics.cant import Case, cost, falls
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import equivalent_distances, marks, sight_shift_at_target
from cross_staff.core.explain.chased import chase
from cross_staff.core.level.vials import reference_tilt, sight_tilt
from cross_staff.core.rig import peep

USUAL = RigFigures(81.0, 0.00142, 0.82, 0.104)  # where there is no rig at hand
HOME_M = 18.0
HAND_M = 0.10  # from the grip's pivot to a sight at its usual place, ahead
Values = Mapping[str, float]
Curve = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Slider:
    """Something that is slid: its key and name, its quantity (angle, distance, length, count, plain, mrad), where it
    stands, its ends and its step, in degrees, metres, millimetres, or as they are."""

    key: str
    name: str
    quantity: str
    usual: float
    least: float
    most: float
    step: float

    def of(self, value: float | None) -> float:
        """A value within its ends; the usual one for none, or for no number."""
        if value is None or not math.isfinite(value):
            return self.usual
        return max(self.least, min(self.most, value))


@dataclass(frozen=True)
class Picture:
    """What is drawn: curves by name and points by name, of two quantities in SI units (angles in degrees); where the
    sliders stand on the first of them; the numbers that the words tell."""

    curves: dict[str, Curve] = field(default_factory=dict)
    points: dict[str, Curve] = field(default_factory=dict)
    at: float | None = None
    numbers: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Explainer:
    """An explanation: key, name, the question it answers; its sliders; the two quantities that are drawn, with their
    names; what makes the picture."""

    key: str
    name: str
    asks: str
    sliders: tuple[Slider, ...]
    across: tuple[str, str]
    up: tuple[str, str]
    picture: Callable[[RigFigures, Values], Picture]

    def values(self, given: Mapping[str, float | None]) -> dict[str, float]:
        """Where every slider stands."""
        return {each.key: each.of(given.get(each.key)) for each in self.sliders}


_FAR = Slider("distance", "Distance", "distance", 60.0, 10.0, 100.0, 1.0)


def _bubbles(figures: RigFigures, v: Values) -> Picture:
    third, cant = math.radians(v["third"]), math.radians(v["cant"])
    tilts = [math.radians(float(d)) for d in range(-60, 61, 2)]
    sight = tuple((math.degrees(p), math.degrees(sight_tilt(0.0, third, cant, p))) for p in tilts)
    beside = tuple((math.degrees(p), math.degrees(reference_tilt(0.0, cant, p))) for p in tilts)
    now = math.radians(v["tilt"])
    apart = math.degrees(sight_tilt(0.0, third, cant, now) - reference_tilt(0.0, cant, now))
    return Picture({"sight's vial": sight, "reference": beside}, {}, v["tilt"], {"apart": apart})


def _cant(figures: RigFigures, v: Values) -> Picture:
    cant, distances = math.radians(v["cant"]), [float(d) for d in range(10, 101, 3)]
    fallen = falls(figures, tuple(Case(d, 0.0) for d in distances))
    known = [(d, each[0]) for d, each in zip(distances, fallen) if each is not None]
    right = tuple((d, drop * math.sin(cant)) for d, drop in known)
    low = tuple((d, -drop * (1.0 - math.cos(cant))) for d, drop in known)
    (now,) = falls(figures, (Case(v["distance"], 0.0),))
    drop = math.nan if now is None else now[0]
    numbers = {"right": drop * math.sin(cant), "low": drop * (1.0 - math.cos(cant))}
    return Picture({"to the side": right, "in height": low}, {}, v["distance"], numbers)


def _slope(figures: RigFigures, v: Values) -> Picture:
    second, third = math.radians(v["second"]), math.radians(v["third"])
    slopes = [float(d) for d in range(-45, 46, 3)]
    costs = cost(figures, second, third, [Case(v["distance"], math.radians(s)) for s in slopes])
    side = tuple((s, each.right_m) for s, each in zip(slopes, costs) if each is not None)
    (now,) = cost(figures, second, third, [Case(v["distance"], math.radians(v["slope"]))])
    told = {"right": math.nan, "cant": math.nan}
    if now is not None:
        told = {"right": now.right_m, "cant": math.degrees(now.cant_rad)}
    return Picture({"to the side": side}, {}, v["slope"], told)


def _extension(figures: RigFigures, v: Values) -> Picture:
    moved = 1e-3 * v["out"]
    out = RigFigures(figures.speed_mps, figures.drag_per_m, figures.eye_to_sight_m + moved, figures.peep_height_m)
    distances = [float(d) for d in range(20, 101, 4)]

    def tape(each: RigFigures) -> Curve:
        return tuple((d, 1e-3 * m.mark_mm) for d, m in zip(distances, marks(each, HOME_M, distances)) if m is not None)

    def torque(each: RigFigures, ahead_m: float) -> float:
        shift = float(sight_shift_at_target(each.eye_to_sight_m, v["distance"]))
        return ahead_m * math.radians(v["torque"]) * shift

    def length(each: RigFigures) -> float:
        (mark,) = marks(each, HOME_M, [v["distance"]])
        return math.nan if mark is None else 1e-3 * mark.mark_mm

    numbers = {
        "tape_now": length(figures), "tape_out": length(out),
        "torque_now": torque(figures, HAND_M), "torque_out": torque(out, HAND_M + moved),
    }  # fmt: skip
    return Picture({"as it is": tape(figures), "moved": tape(out)}, {}, v["distance"], numbers)


def _chased(figures: RigFigures, v: Values) -> Picture:
    told = chase(v["spread"], int(v["arrows"]), int(v["groups"]), v["wild"], v["distance"])
    points = {"every group chased": told.chased_m, "all arrows pooled": told.pooled_m}
    return Picture({}, points, None, {"chased": told.chased_off_m, "pooled": told.pooled_off_m, "moves": v["groups"]})


def _days(figures: RigFigures, v: Values) -> Picture:
    far, home, counts = v["distance"], HOME_M, [float(n) for n in range(3, 61, 3)]

    def off_m(arrows: float, days: float) -> float:
        """One sd at the far stake of a mark that so many arrows made on so many days, half of them near."""
        scatter = 1e-3 * v["spread"] * far * math.sqrt(2.0 / arrows)
        return math.hypot(scatter, 1e-3 * v["day"] * (far - home) / math.sqrt(days))

    one = tuple((n, off_m(n, 1.0)) for n in counts)
    more = tuple((n, off_m(n, min(v["days"], n / 3.0))) for n in counts)
    numbers = {"one": off_m(v["arrows"], 1.0), "more": off_m(v["arrows"], min(v["days"], v["arrows"] / 3.0))}
    return Picture({"all on one day": one, "on several days": more}, {}, v["arrows"], numbers)


def _peep(figures: RigFigures, v: Values) -> Picture:
    along = 1e-3 * v["along"]

    def square(degrees: float) -> float:
        return peep.from_along_string(along, math.radians(degrees)).height_m

    angles = [float(a) for a in range(20, 71, 2)]
    curves = {
        "square to the arrow": tuple((a, square(a)) for a in angles),
        "along the string": tuple((a, along) for a in angles),
    }
    return Picture(curves, {}, v["angle"], {"square": square(v["angle"]), "along": along})


def _cosine(figures: RigFigures, v: Values) -> Picture:
    slopes = [float(d) for d in range(-45, 46, 3)]

    def true(degrees: float) -> float | None:
        shots = Trajectories.of(figures, [v["distance"]], [math.radians(degrees)])
        return equivalent_distances(figures, shots)[0]

    curve = tuple((s, d) for s, d in ((s, true(s)) for s in slopes) if d is not None)
    rule = tuple((s, v["distance"] * math.cos(math.radians(s))) for s in slopes)
    now = true(v["slope"])
    simple = v["distance"] * math.cos(math.radians(v["slope"]))
    numbers = {"true": math.nan if now is None else now, "rule": simple}
    return Picture({"as the arrow flies": curve, "by the cosine": rule}, {}, v["slope"], numbers)


EXPLAINERS = {
    each.key: each
    for each in (
        Explainer(
            "bubbles", "Two bubbles part as the bow tilts", "Why is the third axis read with the bow tilted?",
            (Slider("tilt", "Tilt of the arrow", "angle", -35.0, -60.0, 60.0, 1.0),
             Slider("third", "Third axis", "angle", 2.0, -5.0, 5.0, 0.1),
             Slider("cant", "Cant of the bow", "angle", 0.0, -5.0, 5.0, 0.1)),
            ("angle", "tilt of the arrow"), ("angle", "tilt of the vial"), _bubbles,
        ),
        Explainer(
            "cant", "Cant and the target", "What does a bow that leans do to the arrow?",
            (Slider("cant", "Cant", "angle", 3.0, -10.0, 10.0, 0.5), _FAR),
            ("distance", "distance"), ("offset", "off on the target, right and high"), _cant,
        ),
        Explainer(
            "slope", "A cant that nobody made", "Why does it throw to one side uphill and to the other downhill?",
            (Slider("slope", "Slope", "angle", 25.0, -45.0, 45.0, 1.0),
             Slider("third", "Third axis", "angle", 2.0, -5.0, 5.0, 0.1),
             Slider("second", "Second axis", "angle", 0.0, -3.0, 3.0, 0.1), _FAR),
            ("angle", "slope"), ("offset", "to the right"), _slope,
        ),
        Explainer(
            "extension", "Out, or in", "What does a sight farther from the eye win, and what does it cost?",
            (Slider("out", "Moved out by", "length", 50.0, -100.0, 150.0, 5.0),
             Slider("torque", "Twist of the hand", "angle", 0.5, 0.0, 2.0, 0.1), _FAR),
            ("distance", "distance"), ("length", "tape from home"), _extension,
        ),
        Explainer(
            "chased", "A group chased", "Why not move the sight after every group?",
            (Slider("spread", "Spread of the archer", "mrad", 1.5, 0.3, 5.0, 0.1),
             Slider("arrows", "Arrows in a group", "count", 3.0, 1.0, 6.0, 1.0),
             Slider("groups", "Groups", "count", 6.0, 2.0, 20.0, 1.0),
             Slider("wild", "Arrows let go wildly", "percent", 5.0, 0.0, 20.0, 1.0),
             Slider("distance", "Distance", "distance", 18.0, 5.0, 60.0, 1.0)),
            ("offset", "to the right"), ("offset", "high"), _chased,
        ),
        Explainer(
            "days", "What a day does to a tape", "Are forty arrows of today worth as much as forty of four days?",
            (Slider("arrows", "Arrows in all", "count", 24.0, 3.0, 60.0, 3.0),
             Slider("days", "Days", "count", 4.0, 2.0, 8.0, 1.0),
             Slider("day", "What a day sets all off by", "mrad", 0.3, 0.0, 1.5, 0.05),
             Slider("spread", "Spread of the archer", "mrad", 1.5, 0.3, 5.0, 0.1), _FAR),
            ("count", "arrows"), ("offset", "one sd at the distance"), _days,
        ),
        Explainer(
            "peep", "The peep, along the string and square", "Which of the two heights does the flight want?",
            (Slider("along", "Peep from the nocking point, along the string", "length", 150.0, 80.0, 250.0, 1.0),
             Slider("angle", "String to arrow", "angle", 38.0, 20.0, 70.0, 1.0)),
            ("angle", "string to arrow"), ("length", "height"), _peep,
        ),
        Explainer(
            "cosine", "Why a slope is not a cosine", "Is the level distance under the target what is dialled?",
            (Slider("slope", "Slope", "angle", 30.0, -45.0, 45.0, 1.0),
             Slider("distance", "Distance", "distance", 60.0, 30.0, 100.0, 1.0)),
            ("angle", "slope"), ("distance", "to be dialled"), _cosine,
        ),
    )
}  # fmt: skip
