"""What was looked at and done on the demo bench: sheets, mounts, witness marks with drawn photos."""

from __future__ import annotations

import io
import math
from collections.abc import Mapping
from dataclasses import replace
from datetime import date, datetime, timedelta

from cross_staff.core.mount.station import DONE, STATION, steps_for
from cross_staff.core.prepare.checklist import CHECKS, PASS, Check
from cross_staff.core.prepare.station import STATION as SHEET
from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services import photos
from cross_staff.services.mount import record as mount
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database

LOOKED = "end serving; looked at in the shop, good for the season"
LINE_RAD = math.radians(0.5)
# what a sound bow measures, in SI; shots are counted
_MEASURED = {
    "rest_centred": 0.0003,
    "arrow_square": 0.0015,
    "cam_timing": 0.0005,
    "limb_bolts": 0.0,
    "string_shots": 240.0,
}
# paper tears (right, up) [m] with the step done before each, as they shrank
TUNED = (((0.014, 0.016), ""), ((0.012, 0.015), "grip"), ((0.011, 0.006), "nock_down"), ((0.010, 0.001), "nock_down"),
         ((0.006, 0.001), "rest_left"), ((0.002, 0.001), "rest_left"))  # fmt: skip
WALKED = ((12.0, 0.004), (18.0, -0.006), (24.0, 0.010), (30.0, -0.002))
MARKS = (
    ("mount on the riser", "white line across mount and riser, behind the upper bolt"),
    ("dovetail place", "line over clamp and bar, third place"),
    ("rail block", "line at its lower edge"),
    ("housing on its post", "two lines, front and side"),
    ("rest", "silver line over clamp and bracket"),
)


def sheet(
    database: Database,
    rig_id: int,
    when: datetime,
    answers: Mapping[str, str] | None = None,
    left_open: tuple[str, ...] = (),
) -> None:
    """Fill the bench sheet of a sound bow, but for the lines left open; answers by their check."""
    for number, check in enumerate(CHECKS.values()):
        entry = _answer(check, (answers or {}).get(check.key), when + timedelta(minutes=3 * number))
        if entry is not None and check.key not in left_open:
            entries.enter(database, rig_id, entry)
    if "paper_tear" not in left_open:
        tears(database, rig_id, when + timedelta(hours=1), TUNED)


def _answer(check: Check, choice: str | None, when: datetime) -> BenchEntry | None:
    if check.kind == "choice":
        usual = next(option.key for option in check.options if option.verdict == PASS)
        return BenchEntry(SHEET, check.key, 0, when, choice=choice or usual, note=LOOKED if choice == "passed" else "")
    if check.kind == "number":
        return BenchEntry(SHEET, check.key, 0, when, number=_MEASURED[check.key])
    if check.kind == "walk_back":
        return BenchEntry(SHEET, check.key, 0, when, points=WALKED)
    return None


def tears(database: Database, rig_id: int, when: datetime, shot: tuple[tuple[tuple[float, float], str], ...]) -> None:
    """Paper tears, each after the step that was tried before it."""
    for number, (point, after) in enumerate(shot):
        moment = when + timedelta(minutes=6 * number)
        entries.enter(database, rig_id, BenchEntry(SHEET, "paper_tear", 0, moment, points=(point,), after=after))


def mounted(database: Database, rig_id: int, when: datetime, left: int = 0) -> None:
    """All steps of the mount done, but for the last few."""
    steps = steps_for(open_rig(database, rig_id).card)
    for number, step in enumerate(steps[: len(steps) - left]):
        moment = when + timedelta(minutes=4 * number)
        entries.enter(database, rig_id, BenchEntry(STATION, step.key, 0, moment, choice=DONE))


LEVEL = LevelSetup(
    reference=Vial(LINE_RAD, 4.0, 0.1),
    rail=Vial(LINE_RAD, 4.0, -0.2),
    sight=Vial(LINE_RAD, 8.0),
    seat="flat",
    seat_words="flat above the grip, marked in silver",
    yaw_proved=True,
    tolerance_m=0.05,
    string=Vial(LINE_RAD, 4.0, 0.0),
    jig=Vial(LINE_RAD, 4.0, 0.0),
)


def proved_on(day: date) -> LevelSetup:
    """What the demo's axes are read with, its levels turned end for end on a day."""
    kinds = ("reference", "rail", "string", "jig")
    return replace(LEVEL, **{kind: replace(getattr(LEVEL, kind), reversed_on=day) for kind in kinds})


def witness(database: Database, rig_id: int, when: datetime) -> None:
    """Lines across the joints, each with a photo."""
    for number, (joint, place) in enumerate(MARKS):
        photo = photos.checked(_picture(number))
        mount.mark_joint(database, rig_id, joint, place, photo, when + timedelta(minutes=2 * number))


def _picture(number: int) -> bytes:
    """A drawn photo: two parts of a sight, and the marker line across their joint."""
    from PIL import Image, ImageDraw

    picture = Image.new("RGB", (640, 420), (92, 97, 98))
    pen = ImageDraw.Draw(picture)
    for y in range(0, 420, 6):
        pen.line((0, y, 640, y + 18), fill=(86, 91, 92))
    edge = 240 + 22 * number
    pen.rounded_rectangle((70, 80, edge, 350), 16, fill=(38, 41, 44), outline=(22, 24, 26), width=4)
    pen.rounded_rectangle((edge + 6, 120, 580, 310), 12, fill=(56, 60, 64), outline=(22, 24, 26), width=4)
    for x in (120, 520):
        pen.ellipse((x - 20, 195, x + 20, 235), fill=(120, 124, 126), outline=(20, 20, 20), width=3)
        pen.regular_polygon((x, 215, 9), 6, fill=(30, 32, 34))
    pen.line((edge - 60, 172 + 12 * number, edge + 70, 176 + 12 * number), fill=(238, 236, 226), width=7)
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()
