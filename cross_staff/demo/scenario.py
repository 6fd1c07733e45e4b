"""The rigs on the Quarry Bench: new, being fitted, fitted, with a wrong mark, stale.

Hollin Quarry is a terraced quarry with shooting ledges above and below the butts; its yearly
Ledge Round has stakes at 12, 17, 26, 38, 47, 61, 78 and 95 m. Everybody in it is invented.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Any

import numpy as np

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import Bow, Goals, LevelSetup, Mount, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.hidden_sight import HiddenSight
from cross_staff.core.simulate.rig import VirtualRig
from cross_staff.demo import bench_work, level_work, photo_work, prove_work, range_work, tape_work
from cross_staff.demo.made_on import MADE_ON
from cross_staff.services import bench, events
from cross_staff.services.card import save as card
from cross_staff.services.practice.level_walk import walk
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from cross_staff.storage.database import Database

ENDS_SHOT = 8  # of the bow that is being sighted in
SEED = 1295
BY, HANDED_OVER = "Ida Fell", 9  # who locks and hands over, and which rig was
PHOTOGRAPHED = 7  # whose bow, vial and target were photographed
SLIDER_MM = 50.0
STAKES_M = (12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0, 95.0)
_LEDGES = (math.radians(35.0), math.radians(35.0))
YARD_M = 0.9144
POUND_N = 4.4482216152605
GRAINS_PER_POUND = 64.79891e-6 / POUND_N
_METRIC = {"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}
_YARDS = {"distance": "yd", "offset": "in", "length": "in", "speed": "fps", "mass": "gr"}


@dataclass(frozen=True)
class DemoRig:
    """A card with the hidden figures behind it, the groups to shoot, and a slip of the pen."""

    card: RigCard
    hidden: RigFigures
    units: dict[str, str]
    shot: tuple[tuple[float, int], ...] = ()  # distance as ranged [m], arrows
    scale_at_home_mm: float = 22.0
    slip_mm: dict[int, float] | None = None  # row -> error of the mark as written down
    speed_spread_mps: float = 0.35
    level_until: str = ""  # the axis at which levelling was left off
    third_by: str = "hand_plumb"  # how its third axis is read


def make(database: Database) -> None:
    """Put the demo rigs into an empty database, as they stand on MADE_ON, by the application's own acts."""
    generator = np.random.default_rng(SEED)
    made = datetime.combine(MADE_ON, time(), UTC)
    start = made - timedelta(days=6)
    setup = bench_work.proved_on((start - timedelta(days=9)).date())
    setup = level_work.shop_levels(database, setup, start - timedelta(days=9))
    for number, rig in enumerate(_rigs()):
        _add(database, rig, setup, generator, start + timedelta(hours=5 * number))
    _new_rig(database, start)
    _tuned_rig(database, generator, start + timedelta(days=2))
    _range_rig(database, setup, start + timedelta(days=3))
    _scope_rig(database, setup, start + timedelta(days=4))
    photo_work.take_photos(database, PHOTOGRAPHED, start + timedelta(days=3, hours=7))
    _change_arrow(database, 4, made - timedelta(hours=20))
    sight_in.choose(database, 1, "dialled", "near", start + timedelta(hours=6))
    tape_work.strips(database, 3, start + timedelta(days=1, hours=20))
    tape_work.printed(database, 3, start + timedelta(days=1, hours=21))
    _proven_rigs(database, setup, start - timedelta(days=30))


def _add(database: Database, rig: DemoRig, setup: LevelSetup, generator: np.random.Generator, when: datetime) -> int:
    home = rig.card.distance_from_sight(rig.card.goals.home_m or 18.0)
    virtual = VirtualRig(rig.hidden, home, rig.scale_at_home_mm, _spread(rig.card))
    readings = virtual.chronograph(generator, 6, 1.5, rig.speed_spread_mps)
    session = ChronographSession(tuple(round(v, 2) for v in readings))
    full = replace(rig.card.with_build(rig.card.build.with_newest(session)), level=setup)
    rig_id = bench.add(database, full.name, full.archer, rig.units, when)
    card.save(database, rig_id, 1, full, rig.units, when + timedelta(minutes=35), "measured on the draw board")
    bench_work.sheet(database, rig_id, when + timedelta(hours=1))
    bench_work.mounted(database, rig_id, when + timedelta(hours=3))
    bench_work.witness(database, rig_id, when + timedelta(hours=4))
    technician = level_work.careful(setup, SEED + rig_id, rig.third_by, when + timedelta(hours=5))
    walk(database, rig_id, technician, rig.level_until)
    edits = []
    for row, (ranged, arrows) in enumerate(rig.shot):
        distance = full.distance_from_sight(ranged)
        guess = round(virtual.mark(distance) + generator.normal(0.0, 0.5), 1)
        group = virtual.shoot(generator, distance, guess, arrows)
        slip = (rig.slip_mm or {}).get(row, 0.0)
        edits.append(RowEdit(ranged, round(guess + slip, 1), _as_typed(group.up_m, rig.units), arrows))
    for step, edit in enumerate(edits):
        tape.save_rows(database, rig_id, [edit], when + timedelta(days=1, minutes=18 * step))
    return rig_id


def _as_typed(up_m: float, units: dict[str, str]) -> float:
    """A height rounded as an archer would write it: half centimetres, or quarter inches."""
    step = 0.005 if units["offset"] == "cm" else 0.00635
    return round(up_m / step) * step


def _spread(rig: RigCard) -> float:
    return rig.goals.spread_mrad or 1.0


def _new_rig(database: Database, when: datetime) -> None:
    rig_id = bench.add(database, "Kiln bow, 48 lb", "Aud Farrow", _METRIC, when)
    started = RigCard(
        "Kiln bow, 48 lb",
        "Aud Farrow",
        "first outing",
        _due(23),
        Bow("compound, 31 in axle to axle", 48 * POUND_N),
        sight=_sight("single_pin_slider", "one pin, 41 mm housing"),
        goals=Goals(17.0, 61.0, 0.30),
    )
    card.save(database, rig_id, 1, started, _METRIC, when, "booked in")


def _tuned_rig(database: Database, generator: np.random.Generator, when: datetime) -> None:
    """A bow still being tuned: its card is complete, its paper tears are getting smaller."""
    rig = _wicket()
    virtual = VirtualRig(rig.hidden, rig.card.goals.home_m or 15.0, 0.0)
    readings = virtual.chronograph(generator, 6, 1.5, rig.speed_spread_mps)
    full = rig.card.with_build(rig.card.build.with_newest(ChronographSession(tuple(round(v, 2) for v in readings))))
    rig_id = bench.add(database, full.name, full.archer, rig.units, when)
    card.save(database, rig_id, 1, full, rig.units, when + timedelta(minutes=40), "measured on the draw board")
    open_lines = ("paper_tear", "eyes_closed", "ties", "walk_back")
    bench_work.sheet(database, rig_id, when + timedelta(hours=1), {"servings": "passed"}, open_lines)
    bench_work.tears(database, rig_id, when + timedelta(hours=2), bench_work.TUNED[:3])


def _range_rig(database: Database, setup: LevelSetup, when: datetime) -> None:
    """A bow at the range: home is found, the pins follow, the last end has a wild shot."""
    rig = _gantry()
    generator = np.random.default_rng(SEED + 70)
    rig_id = _add(database, rig, setup, generator, when)
    card_now = open_rig(database, rig_id).card
    heights = [pin_height(rig.hidden, card_now.distance_from_sight(d)) for d in card_now.goals.pin_distances_m]
    top = heights[0] + 0.0041
    spread = 0.9 * _spread(rig.card)
    sight = HiddenSight(rig.hidden, card_now, generator, -3.4, [top + 0.8 * (h - heights[0]) for h in heights], spread)
    range_work.shot_in(database, rig_id, when + timedelta(days=1), sight, ends=ENDS_SHOT, wild=True)


def _scope_rig(database: Database, setup: LevelSetup, when: datetime) -> None:
    """A target sight: a scale of millimetres and a drum of twenty clicks, its marks shot on two days."""
    rig = _chapel()
    generator = np.random.default_rng(SEED + 90)
    rig_id = _add(database, rig, setup, generator, when)
    again = [RowEdit(*_shot(rig, generator, 70.0, 6))]
    tape.save_rows(database, rig_id, again, when + timedelta(days=1, hours=20))


def _proven_rigs(database: Database, setup: LevelSetup, when: datetime) -> None:
    """Four tapes that are proven: one over seven visits, laid on anew after the fourth; one of the wrong length; one
    half way; one whose bow was knocked."""
    for number, name in enumerate(("Incline", "Hoist", "Crane", "Winch")):
        generator = np.random.default_rng(SEED + 200 + number)
        rig = _slate(name, number)
        rig_id = _add(database, rig, setup, generator, when)
        first = when + timedelta(days=3)
        tape_work.printed(database, rig_id, first)
        prove_work.on_sight(database, rig_id, first)
        _VISITS[name](database, rig_id, rig, generator, first + timedelta(days=1))


def _incline(database: Database, rig_id: int, rig: DemoRig, generator: np.random.Generator, when: datetime) -> None:
    truth = prove_work.Truth(rig.hidden, _spread(rig.card), 2.1, windage_mrad=0.5)
    stakes = ((26.0, 78.0), (38.0, 61.0), (47.0, 95.0), (26.0, 61.0), (38.0, 78.0), (26.0, 95.0), (47.0, 61.0))
    for visit, distances in enumerate(stakes):
        if visit == 4:
            prove_work.mended(database, rig_id, when + timedelta(days=12))
            truth = replace(truth, laid_off_mm=0.1)
        day = when + timedelta(days=3 * visit + (1 if visit >= 4 else 0))
        prove_work.visit(database, rig_id, truth, distances, generator, day)
    prove_work.locked(database, rig_id, BY, when + timedelta(days=23))


def _hoist(database: Database, rig_id: int, rig: DemoRig, generator: np.random.Generator, when: datetime) -> None:
    truth = prove_work.Truth(rig.hidden, _spread(rig.card), 0.0, 0.075)
    stakes = ((26.0, 78.0), (38.0, 95.0), (47.0, 61.0), (26.0, 95.0), (38.0, 78.0), (26.0, 78.0))
    for visit, distances in enumerate(stakes):
        prove_work.visit(database, rig_id, truth, distances, generator, when + timedelta(days=4 * visit), visit == 2)


def _crane(database: Database, rig_id: int, rig: DemoRig, generator: np.random.Generator, when: datetime) -> None:
    truth = prove_work.Truth(rig.hidden, _spread(rig.card), 0.5, windage_mrad=-0.9)
    for visit, distances in enumerate(((38.0,), (61.0, 26.0))):
        prove_work.visit(database, rig_id, truth, distances, generator, when + timedelta(days=9 * visit))


def _winch(database: Database, rig_id: int, rig: DemoRig, generator: np.random.Generator, when: datetime) -> None:
    truth = prove_work.Truth(rig.hidden, _spread(rig.card))
    for visit, distances in enumerate(((26.0, 78.0), (38.0, 61.0), (47.0, 78.0))):
        prove_work.visit(database, rig_id, truth, distances, generator, when + timedelta(days=5 * visit))
    knock = when + timedelta(days=20)
    events.happened(database, rig_id, ("knock",), "fell off the rack", knock)
    fallen = replace(truth, laid_off_mm=2.2)
    prove_work.visit(database, rig_id, fallen, (26.0, 61.0), generator, knock + timedelta(hours=2))
    prove_work.marks_seen(database, rig_id, {"pointer": "moved", "rest": "stands", "head": "stands"}, knock)


_VISITS = {"Incline": _incline, "Hoist": _hoist, "Crane": _crane, "Winch": _winch}


def _shot(
    rig: DemoRig, generator: np.random.Generator, ranged_m: float, arrows: int
) -> tuple[float, float, float, int]:
    """A group as it is written down: distance [m], mark [mm], how high [m], arrows."""
    card_of, home = rig.card, rig.card.distance_from_sight(rig.card.goals.home_m or 18.0)
    virtual, distance = VirtualRig(rig.hidden, home, rig.scale_at_home_mm, _spread(card_of)), ranged_m
    guess = round(virtual.mark(card_of.distance_from_sight(distance)) + generator.normal(0.0, 0.5), 1)
    group = virtual.shoot(generator, card_of.distance_from_sight(distance), guess, arrows)
    return ranged_m, guess, _as_typed(group.up_m, rig.units), arrows


def _change_arrow(database: Database, rig_id: int, when: datetime) -> None:
    """A heavier point went on after the marks were shot."""
    rig = open_rig(database, rig_id)
    build = rig.card.build
    parts = tuple(replace(p, mass_kg=p.mass_kg + 0.0016) if p.name == "Point" else p for p in build.components)
    changed = rig.card.with_build(replace(build, components=parts))
    card.save(database, rig_id, rig.revision.number, changed, rig.units, when, "heavier points for the wind")


def _sight(kind: str, words: str, travel_mm: float = SLIDER_MM, **tape: Any) -> SightModel:
    """A generic sight of a kind under its own name, with its travel, its tape sitting as said."""
    model = KINDS[kind].template
    seat = replace(model.tape, **tape)
    if model.slider_travel_mm is None:
        return replace(model, name=words, tape=seat)
    wheel, *others = model.controls
    controls = (replace(wheel, travel_mm=travel_mm), *others)
    return replace(model, name=words, slider_travel_mm=travel_mm, controls=controls, tape=seat)


def _due(days: int) -> date:
    return MADE_ON + timedelta(days=days)


def _parts(length_m: float, nock_g: float, vanes_g: float, collar_g: float, point_g: float) -> tuple[Component, ...]:
    return (
        Component("Nock", nock_g / 1000.0, 0.002),
        Component("Vanes", vanes_g / 1000.0, 0.048),
        Component("Collar", collar_g / 1000.0, length_m - 0.006),
        Component("Point", point_g / 1000.0, length_m + 0.004),
    )


def _rigs() -> list[DemoRig]:
    stakes = ((17.0, 6), (38.0, 6), (61.0, 6))
    ledge = RigCard(
        "Ledge bow, 61 lb",
        "Maren Oake",
        "Ledge Round",
        _due(9),
        Bow("compound, 36 in axle to axle", 61 * POUND_N, 0.694, 5 * GRAINS_PER_POUND),
        sight=_sight("multi_pin_slider", "three pins, 44 mm housing", width_mm=9.0),
        builds=(
            ArrowBuild(
                "slim carbon, low vanes", 0.724, 0.0168, 0.0058, _parts(0.724, 0.55, 1.1, 1.9, 7.8), spine="340"
            ),
            ArrowBuild("mid-size, wet days", 0.724, 0.0190, 0.0066, _parts(0.724, 0.60, 1.3, 1.9, 8.4), spine="300"),
        ),
        mount=Mount(1, 1, "reserve", vanes_mm=11.0, ahead_of_grip_m=0.176, torque="mount bolts: anti-seize"),
        release="thumb button",
        anchor="knuckles under the jaw, string at the tip of the nose",
        eye_to_sight_m=0.822,
        peep=PeepEntry("along", along_m=0.164, angle_rad=math.radians(38.5), aperture_m=0.0032, eye_to_peep_m=0.075),
        goals=Goals(17.0, 95.0, 0.25, 0.10, 38.0, STAKES_M, (17.0, 38.0, 61.0), False, *_LEDGES),
    )
    terrace = RigCard(
        "Terrace bow, 52 lb",
        "Jory Penhale",
        "Ledge Round",
        _due(9),
        Bow("compound, 33 in axle to axle", 52 * POUND_N),
        "left",
        sight=_sight("single_pin_slider", "one pin, 38 mm housing", width_mm=11.0, ticks_at="left"),
        builds=(ArrowBuild("mid-size carbon", 0.690, 0.0182, 0.0066, _parts(0.690, 0.6, 1.5, 1.2, 6.5)),),
        eye_to_sight_m=0.780,
        peep=PeepEntry("square", 0.098),
        goals=Goals(17.0, 78.0, 0.30, 0.16, 38.0),
    )
    tower = RigCard(
        "Tower bow, 57 lb",
        "Sela Brandt",
        "Ledge Round",
        _due(9),
        Bow("compound, 38 in axle to axle", 57 * POUND_N),
        sight=_sight("single_pin_slider", "one pin, 35 mm housing", 64.0, width_mm=8.0, length_mm=72.0),
        builds=(ArrowBuild("thin carbon", 0.742, 0.0159, 0.0054, _parts(0.742, 0.5, 0.9, 1.4, 8.4)),),
        eye_to_sight_m=0.861,
        peep=PeepEntry("square", 0.108),
        ranged_from="sight",
        goals=Goals(12.0, 95.0, 0.30, 0.07, 38.0),
    )
    yard = RigCard(
        "Cartway bow, 66 lb",
        "Dunstan Vale",
        "club evenings",
        _due(16),
        Bow("compound, 34 in axle to axle", 66 * POUND_N),
        sight=_sight("vertical_pin_slider", "two pins on one post, 44 mm housing", unit_m=YARD_M),
        builds=(ArrowBuild("stout carbon", 0.711, 0.0196, 0.0062, _parts(0.711, 0.6, 1.2, 2.2, 8.1)),),
        eye_to_sight_m=0.800,
        peep=PeepEntry("estimated", along_m=0.158, axle_to_axle_m=0.864, true_draw_m=0.700),
        goals=Goals(22 * YARD_M, 85 * YARD_M, 0.254, 0.127, 45 * YARD_M),
    )
    return [
        DemoRig(ledge, RigFigures(82.1, 0.00131, 0.820, 0.1015), _METRIC, stakes),
        DemoRig(
            terrace,
            RigFigures(71.4, 0.00196, 0.783, 0.0952),
            _METRIC,
            ((17.0, 6), (26.0, 4), (38.0, 6), (47.0, 4), (61.0, 6)),
            8.0,
            {3: -2.0},
            level_until="third",
        ),
        DemoRig(
            tower,
            RigFigures(78.6, 0.00118, 0.858, 0.1105),
            _METRIC,
            ((12.0, 6), (38.0, 6), (61.0, 6), (78.0, 6), (95.0, 6)),
            15.0,
            third_by="vise_riser",
        ),
        DemoRig(
            yard,
            RigFigures(84.9, 0.00155, 0.803, 0.0985),
            _YARDS,
            ((22 * YARD_M, 6), (45 * YARD_M, 6), (70 * YARD_M, 6)),
            31.0,
        ),
    ]


def _gantry() -> DemoRig:
    """Three pins on a slider, for the round's ledges; its sight was never shot before."""
    gantry = RigCard(
        "Gantry bow, 55 lb",
        "Ilse Thornby",
        "Ledge Round",
        _due(9),
        Bow("compound, 35 in axle to axle", 55 * POUND_N, 0.688, 5 * GRAINS_PER_POUND),
        sight=_sight("multi_pin_slider", "three pins on a slider, 44 mm housing"),
        builds=(ArrowBuild("slim carbon", 0.716, 0.0164, 0.0058, _parts(0.716, 0.55, 1.1, 1.7, 7.8), spine="350"),),
        eye_to_sight_m=0.808,
        peep=PeepEntry("square", 0.101, aperture_m=0.0036),
        goals=Goals(17.0, 95.0, 0.25, 0.11, 38.0, STAKES_M, (17.0, 26.0, 38.0), False, *_LEDGES),
    )
    return DemoRig(gantry, RigFigures(79.2, 0.00139, 0.808, 0.1018), _METRIC)


def _chapel() -> DemoRig:
    """A bow with scope, scale and drum, for rounds on the level."""
    chapel = RigCard(
        "Chapel bow, 49 lb",
        "Bryn Attwater",
        "winter rounds",
        _due(30),
        Bow("compound, 39 in axle to axle", 49 * POUND_N, 0.702, 5 * GRAINS_PER_POUND),
        sight=_sight("target_scope", "scope on a threaded bar, 35 mm ring"),
        builds=(ArrowBuild("thin carbon", 0.756, 0.0150, 0.0054, _parts(0.756, 0.5, 0.8, 1.3, 7.8), spine="450"),),
        mount=Mount(0, 1, "top", vanes_mm=9.0),
        release="back tension",
        eye_to_sight_m=0.872,
        peep=PeepEntry("square", 0.109, aperture_m=0.0012, eye_to_peep_m=0.08),
        goals=Goals(18.0, 70.0, 0.20, 0.06, 50.0, (18.0, 30.0, 50.0, 60.0, 70.0), (), True),
    )
    shot = ((18.0, 6), (30.0, 6), (50.0, 6), (70.0, 6))
    return DemoRig(chapel, RigFigures(74.8, 0.00114, 0.870, 0.1082), _METRIC, shot, 6.0)


_SLATE = (("Tamsin Reed", 58), ("Corin Ashby", 54), ("Hollis Crane", 60), ("Wenna Marlow", 56))


def _slate(name: str, number: int) -> DemoRig:
    """A bow whose tape is proven: one pin, a tape to the last stake."""
    archer, pounds = _SLATE[number]
    figures = RigFigures(79.5 + 0.8 * number, 0.00135 + 4e-5 * number, 0.816, 0.1025)
    slate = RigCard(
        f"{name} bow, {pounds} lb",
        archer,
        "Ledge Round",
        _due(9),
        Bow("compound, 35 in axle to axle", pounds * POUND_N, 0.690, 5 * GRAINS_PER_POUND),
        sight=_sight("single_pin_slider", "one pin, 40 mm housing", 56.0, width_mm=9.0),
        builds=(ArrowBuild("slim carbon", 0.716, 0.0164, 0.0058, _parts(0.716, 0.55, 1.1, 1.8, 8.0), spine="340"),),
        eye_to_sight_m=0.815,
        peep=PeepEntry("square", 0.102, aperture_m=0.0032),
        goals=Goals(17.0, 95.0, 0.30, 0.10, 38.0, STAKES_M, (), False, *_LEDGES),
    )
    shot = ((17.0, 6), (38.0, 6), (61.0, 6), (78.0, 6), (95.0, 6), (47.0, 6))
    return DemoRig(slate, figures, _METRIC, shot, 12.0)


def _wicket() -> DemoRig:
    """A bow for level ground, fixed pins, short distances."""
    wicket = RigCard(
        "Wicket bow, 50 lb",
        "Perrin Stowe",
        "club evenings",
        _due(12),
        Bow("compound, 30 in axle to axle", 50 * POUND_N, 0.665, 5 * GRAINS_PER_POUND),
        sight=_sight("fixed_pins", "four pins, 40 mm housing"),
        builds=(ArrowBuild("mid-size carbon", 0.685, 0.0176, 0.0066, _parts(0.685, 0.6, 1.4, 1.4, 6.5), spine="400"),),
        eye_to_sight_m=0.742,
        peep=PeepEntry("square", 0.094, aperture_m=0.0048),
        goals=Goals(15.0, 47.0, 0.30, 0.14, 26.0, (15.0, 26.0, 38.0, 47.0), (15.0, 26.0, 38.0, 47.0), True),
    )
    return DemoRig(wicket, RigFigures(72.2, 0.00188, 0.742, 0.0945), _METRIC)
