"""A shop of the tests' own: rigs put on the bench of an empty shop, each taken as far as a test needs it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.level.log import AXES, LevelReading
from cross_staff.core.mount.station import DONE, steps_for
from cross_staff.core.mount.station import STATION as MOUNT
from cross_staff.core.prepare.checklist import CHECKS, PASS
from cross_staff.core.prepare.station import STATION as SHEET
from cross_staff.core.printing.sheet import SheetStyle
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.rig.booklet import Booklet
from cross_staff.core.rig.card import Bow, Goals, LevelSetup, Mount, PeepEntry, RigCard, Vial
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.tape.layout import Wanted
from cross_staff.services import bench
from cross_staff.services import log as entries
from cross_staff.services.card import save as card
from cross_staff.services.level import record as level
from cross_staff.services.prove import record as prove
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.tape import booklet
from cross_staff.services.tape.record import RowEdit, StripWords, keep_printed, printed, save_rows
from cross_staff.storage.database import Database
from tests.ends import ROUND
from tests.rigs import NOON, TEMPLATES, full_card, true_mark

METRIC = {"distance": "m", "offset": "cm", "length": "mm", "speed": "mps", "mass": "g"}
IMPERIAL = {"distance": "yd", "offset": "in", "length": "in", "speed": "fps", "mass": "gr"}
YARD_M = 0.9144
LINE = Vial(math.radians(0.5), 4.0, 0.0)
STAKES_M = (12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0)
PINS_M = (17.0, 26.0, 38.0)


def rig_card(
    kind: str = "multi_pin_slider", hand: str = "right", peep: bool = True, yards: bool = False, **changes: object
) -> RigCard:
    """A card that lacks nothing: any kind of sight, either hand, with a peep or without, home and goals round in
    metres or in yards."""
    unit = YARD_M if yards else 1.0
    stakes, pins = (tuple(unit * d for d in each) for each in (STAKES_M, PINS_M))
    fields: dict[str, object] = {
        "sight": replace(TEMPLATES[kind], tape=replace(TEMPLATES[kind].tape, unit_m=unit)),
        "handed": hand,
        "bow": Bow("compound", 270.0, 0.70),
        "mount": Mount(0, 0, "top", vanes_mm=11.0, ahead_of_grip_m=0.17),
        "goals": Goals(unit * 17.0, unit * 78.0, 0.25, 0.10, 38.0, stakes, pins if kind != "single_pin_slider" else ()),
        "level": LevelSetup(LINE, LINE, LINE, "flat", yaw_proved=True, tolerance_m=0.05, string=LINE),
    }
    if not peep:
        fields["peep"] = PeepEntry("eye", 0.104)
    return full_card(**(fields | changes))  # type: ignore[arg-type]


def passing() -> list[BenchEntry]:
    """A bench sheet on which everything passes."""
    sheet = []
    for check in CHECKS.values():
        answer: dict[str, object] = {}
        if check.kind == "choice":
            answer["choice"] = next(option.key for option in check.options if option.verdict == PASS)
        elif check.kind == "number":
            answer["number"] = 200.0 if check.quantity == "count" else 0.0
        elif check.kind in ("tear", "bare_shaft"):
            answer |= {"number": 20.0, "points": ((0.001, 0.0),)}
        elif check.kind == "walk_back":
            answer["points"] = tuple((distance, 0.0) for distance in (12.0, 18.0, 24.0, 30.0))
        if answer:  # the card answers for the rest
            sheet.append(BenchEntry(SHEET, check.key, 2, NOON, **answer))  # type: ignore[arg-type]
    return sheet


@dataclass
class Shop:
    """The bench with its clock, a minute on at every act; units in which its rigs are shown."""

    database: Database
    units: dict[str, str] = field(default_factory=lambda: dict(METRIC))
    clock: datetime = NOON

    def now(self) -> datetime:
        self.clock += timedelta(minutes=1)
        return self.clock

    def open(self, rig_id: int) -> Rig:
        return open_rig(self.database, rig_id)

    def new(self, name: str = "Grey bow") -> int:
        """Put on the bench, and nothing more."""
        return bench.add(self.database, name, "Sela Brandt", self.units, self.now())

    def rig(self, full: RigCard | None = None) -> int:
        """With a complete card, at revision 2."""
        full = full or rig_card()
        rig_id = bench.add(self.database, full.name, full.archer, self.units, self.now())
        card.save(self.database, rig_id, 1, full, self.units, self.now(), "measured")
        return rig_id

    def ready(self, full: RigCard | None = None) -> int:
        """Prepared, mounted and levelled."""
        rig_id = self.rig(full)
        for work in (self.prepared, self.mounted, self.levelled):
            work(rig_id)
        return rig_id

    def prepared(self, rig_id: int, left_open: Sequence[str] = ()) -> None:
        """Every line of the sheet answered as a sound bow does, but for those left open."""
        for entry in passing():
            if entry.key not in left_open:
                entries.enter(self.database, rig_id, replace(entry, entered=self.now()))

    def mounted(self, rig_id: int, left: int = 0) -> None:
        """Every step of the mount done, but for the last few."""
        steps = steps_for(self.open(rig_id).card)
        for step in steps[: len(steps) - left]:
            entries.enter(self.database, rig_id, BenchEntry(MOUNT, step.key, 0, self.now(), choice=DONE))

    def plumb(self, rig_id: int) -> None:
        level.plumb(self.database, rig_id, level.PlumbSeen(0.0, 0.0, 0.0, "flat"), self.now())

    def levelled(self, rig_id: int, axes: Sequence[str] = AXES) -> None:
        """The bow plumb, and these axes read true until the program says good."""
        self.plumb(rig_id)
        for axis in axes:
            for _ in range(4):
                if self.open(rig_id).level.axes[axis].settled:
                    break
                pitch = math.radians(-35.0) if axis == "third" else 0.0
                method = "hand_plumb" if axis == "third" else self.open(rig_id).level.axes[axis].method
                level.read(self.database, rig_id, LevelReading(axis, method, pitch, 0.0, 0.0, 2, self.now()))

    def marks(self, rig_id: int, *distances_m: float, wrong_mm: float = 0.0) -> None:
        """Marks as rig A gives them, from home on; the last of them wrong by so much."""
        full = self.open(rig_id).card
        for distance in distances_m:
            mark = true_mark(full.distance_from_sight(distance)) + (wrong_mm if distance == distances_m[-1] else 0.0)
            save_rows(self.database, rig_id, [RowEdit(distance, round(mark, 1), 0.0, 6)], self.now())

    def end(self, rig_id: int, key: str, ranged_m: float, pin: int = 0, wild: bool = False,
            dial_mm: float | None = None) -> None:  # fmt: skip
        """Six arrows about the aim, one of them wild and not called."""
        places = (*ROUND[:-1], (35.0, -21.0) if wild else ROUND[-1])
        shots = tuple(Shot(0.01 * x, 0.01 * y, False, f"{key}{n}") for n, (x, y) in enumerate(places))
        save_end(self.database, rig_id, EndDraft(key, ranged_m, pin, dial_mm, shots), self.now())

    def printed(self, rig_id: int, to_m: float | None = None, lay: bool = True) -> str:
        """The fitted tape printed, and on the sight; the code of its strip."""
        rig = self.open(rig_id)
        goals = rig.card.goals
        wanted = Wanted(goals.home_m or 17.0, to_m or goals.farthest_m or 78.0)
        words = StripWords(("a tape",), ("a tape", "for the tests"))
        only = printed(rig, wanted, SheetStyle(), words)
        fitted = next(strip for strip in only.strips if strip.name == "fitted")
        number = keep_printed(self.database, rig_id, replace(only, strips=(fitted,)), self.now())
        code = f"strip {number}.0"
        if lay:
            prove.lay(self.database, rig_id, code, self.now())
        return code

    def proof(self, rig_id: int, day: int, ranged_m: float, up_m: float | None = 0.0, **changes: object) -> ProofLine:
        """A line of four arrows, so many days after the first, dialled by the tape that is on the sight."""
        rig = self.open(rig_id)
        current = rig.prove.current
        when = self.now()
        fields: dict[str, object] = {
            "key": f"line {day} {ranged_m:g} {len(rig.proof_log)}",
            "day": NOON.date() - timedelta(days=30 - day),
            "dialled_m": ranged_m,
            "arrows": 4,
            "tape": current.tape.code if current else "",
        }
        line = ProofLine(revision=0, entered=when, ranged_m=ranged_m, up_m=up_m, **(fields | changes))  # type: ignore[arg-type]
        return prove.enter(self.database, rig_id, line).line

    def strips(self, rig_id: int, measured: Booklet) -> None:
        booklet.keep(self.database, rig_id, measured, self.now())
