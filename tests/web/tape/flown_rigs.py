"""Two dozen rigs whose sheets are flown: every kind that is dialled, other units, hands, ratios, homes and pointers."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.card import Goals, Mount, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.sight import Control, Housing, Pin, SightModel, TapeSeat
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from cross_staff.storage.database import Database
from cross_staff.web.forms.units import YARD_M
from tests.rigs import NOON, RIG_A, full_card
from tests.shop import Shop

STAKES = (12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0, 95.0)
SLOW, FAST = RigFigures(54.0, 0.0024, 0.80, 0.096), RigFigures(104.0, 0.00155, 0.84, 0.110)


@dataclass(frozen=True)
class FlownRig:
    """A rig: its truth, home and pins [in its own unit of distance], how its sight is, and which pin is dialled."""

    name: str
    figures: RigFigures = RIG_A
    kind: str = "multi_pin_slider"
    pins: tuple[float, ...] = (17.0, 38.0, 61.0)
    dialled: str = "near"
    units: tuple[str, str] = ("m", "cm")
    tape_unit: str = ""
    ratio: float = 1.0
    told: bool = True
    grows: bool = True
    runs: str = "down"
    handed: str = "right"
    pointers: tuple[int, ...] = ()
    farthest: float = 95.0
    travel_mm: float | None = 70.0
    reserve_mm: float = 3.0
    clicks: bool = False
    ranged_from: str = "sight"
    level_only: bool = False

    @property
    def unit_m(self) -> float:
        return YARD_M if self.units[0] == "yd" else 1.0

    def card(self) -> RigCard:
        """What is on its card; the chronograph close to the truth."""
        seat = TapeSeat(
            9.0, "right", self.runs, self.grows, self.ratio if self.told else None,
            YARD_M if (self.tape_unit or self.units[0]) == "yd" else 1.0,
        )  # fmt: skip
        drum = Control("Drum", "elevation", 0.05, 20.0, 1.0)
        sight = SightModel(
            "a sight", self.kind, pins=(Pin(0.48),) * len(self.pins), pointers=self.pointers, tape=seat,
            controls=(drum,) if self.clicks else (), slider_travel_mm=self.travel_mm,
            housing=Housing(44.0, 52.0, 20.0, 34.0),
            scale_division_mm=1.0 if self.kind == "target_scope" else None,
        )  # fmt: skip
        unit, pins = self.unit_m, self.pins
        stakes = tuple(d * unit for d in STAKES if d <= self.farthest)
        slopes = (None, None) if self.level_only else (math.radians(25.0), math.radians(25.0))
        goals = Goals(pins[0] * unit, self.farthest * unit, 0.25, 0.08, 38.0, stakes,
                      tuple(d * unit for d in pins) if len(pins) > 1 else (), self.level_only, *slopes)  # fmt: skip
        v = self.figures.speed_mps
        return full_card(
            name=self.name, sight=sight, goals=goals, handed=self.handed, ranged_from=self.ranged_from,
            eye_to_sight_m=self.figures.eye_to_sight_m, peep=PeepEntry("square", self.figures.peep_height_m),
            mount=Mount(home="reserve", reserve_mm=self.reserve_mm, vanes_mm=6.0),
            chronograph=ChronographSession((v - 0.2, v, v + 0.2, v)),
        )  # fmt: skip

    def mark(self, card: RigCard, pin: int, ranged_m: float) -> float:
        """What its scale reads where a pin is right for a distance; pins stand where they belong."""
        home, own = (card.distance_from_sight(d) for d in (card.goals.home_m or 0.0, self.pins[pin] * self.unit_m))
        at_home, stands = pin_height(self.figures, home), pin_height(self.figures, own)
        drop = at_home - pin_height(self.figures, card.distance_from_sight(ranged_m)) - (at_home - stands)
        return (1.0 if self.grows else -1.0) * self.ratio * 1000.0 * drop + 12.0


RIGS = (
    FlownRig("top pin dialled"),
    FlownRig("low pin dialled", dialled="far"),
    FlownRig("middle pin dialled", dialled="pin2"),
    FlownRig("three pointers", kind="vertical_pin_slider"),
    FlownRig("three pointers, the low pin's tape", kind="vertical_pin_slider", dialled="far"),
    FlownRig("two pointers of three pins", pointers=(0, 2)),
    FlownRig("one pin", kind="single_pin_slider", pins=(17.0,)),
    FlownRig("one pin, eye", kind="single_pin_slider", pins=(17.0,), ranged_from="eye"),
    FlownRig("wheel of unknown ratio", kind="single_pin_slider", pins=(17.0,), ratio=1.73, told=False),
    FlownRig("wheel of known ratio", ratio=2.4, dialled="far"),
    FlownRig("numbers fall", kind="single_pin_slider", pins=(17.0,), grows=False, runs="up"),
    FlownRig("numbers fall, three pins", grows=False, dialled="far"),
    FlownRig("yards and inches", units=("yd", "in"), pins=(20.0, 40.0, 60.0), farthest=100.0),
    FlownRig("yards and centimetres", units=("yd", "cm"), pins=(20.0, 35.0), farthest=90.0, dialled="far"),
    FlownRig("metres, a strip in yards", tape_unit="yd", kind="vertical_pin_slider", pins=(18.0, 45.0)),
    FlownRig("yards, a strip in metres", units=("yd", "in"), tape_unit="m", pins=(20.0, 45.0), farthest=90.0),
    FlownRig("left-handed", handed="left", dialled="far", ranged_from="eye"),
    FlownRig("home 18.5", kind="single_pin_slider", pins=(18.5,)),
    FlownRig("home 19.25 yd", units=("yd", "in"), kind="single_pin_slider", pins=(19.25,), farthest=90.0),
    FlownRig(
        "home 19.25 yd, three pointers",
        units=("yd", "in"),
        kind="vertical_pin_slider",
        pins=(19.25, 33.0, 52.5),
        farthest=90.0,
    ),  # fmt: skip
    FlownRig("slow", figures=SLOW, pins=(17.0, 26.0, 38.0), farthest=61.0),
    FlownRig("slow, little travel", figures=SLOW, pins=(17.0, 38.0), farthest=61.0, travel_mm=30.0),
    FlownRig("fast", figures=FAST, dialled="far", level_only=True),
    FlownRig("scale and drum", kind="target_scope", pins=(18.0,), clicks=True, farthest=78.0),
    FlownRig("scale and drum, geared", kind="target_scope", pins=(18.0,), clicks=True, ratio=1.25, farthest=78.0),
)


def fill(database: Database) -> None:
    """Every rig with marks that are right for it."""
    for rig in RIGS:
        card, unit = rig.card(), rig.unit_m
        rig_id = Shop(database, {"distance": rig.units[0], "offset": rig.units[1]}).rig(card)
        if rig.dialled != "near" or rig.kind == "multi_pin_slider":
            sight_in.choose(database, rig_id, "dialled", rig.dialled, NOON)
        own = {"near": 0, "far": len(rig.pins) - 1}.get(rig.dialled, 1)
        near = rig.pins[own]
        marks = [(own, near), (own, 0.5 * (near + rig.farthest)), (own, 0.9 * rig.farthest)]
        marks += [(pin, at) for pin, at in enumerate(rig.pins) if pin != own]
        rows = [RowEdit(d * unit, round(rig.mark(card, pin, d * unit), 2), arrows=12, pin=pin) for pin, d in marks]
        tape.save_rows(database, rig_id, rows, NOON)
