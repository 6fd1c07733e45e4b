"""The lines of the bench sheet, as data: what is looked at, what passes, why it matters for the
sight, and what to try next."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from cross_staff.core.ranges import Range

CheckKind = Literal["number", "choice", "tear", "bare_shaft", "walk_back", "card"]


class CheckVerdict(StrEnum):
    """What an answer to a line comes to."""

    PASS = "pass"
    NOTE = "note"
    FAIL = "fail"
    UNKNOWN = "unknown"
    OLD = "old"


PASS, NOTE, FAIL, UNKNOWN, OLD = CheckVerdict
# what a line can have measured, by its quantity [m, shots, turns], and where a point can lie, by its kind [m]
NUMBERS = {"length": Range(-0.05, 0.05), "count": Range(0.0, 100000.0), "turn": Range(-4.0, 4.0)}
POINTS = {"tear": Range(-0.2, 0.2), "bare_shaft": Range(-2.0, 2.0), "walk_back": Range(-3.0, 3.0)}
WALK_BACK_DISTANCES = 3
# answers that any line takes
BY_EYE, ABSENT, NOT_KNOWN = "by_eye", "absent", "not_known"
SEEN = {BY_EYE: "by eye it looks right", ABSENT: "not on this bow", NOT_KNOWN: "not known"}
NO_PEEP = "no peep"
BY_EYE_LEAVES = 1.0 / 3.0  # of what is open where nobody looked
SHOTS_SETTLED = 150  # shots after which a new string has usually done its stretching


@dataclass(frozen=True)
class Option:
    """An answer to a check: key, words, verdict, what to try when it is not a pass; whether the bow is not to be drawn
    until that is done, and which answers of the line end that, said with a name (none: only another string)."""

    key: str
    words: str
    verdict: CheckVerdict
    remedy: str = ""
    stops: bool = False
    ended_by: tuple[str, ...] = ()


@dataclass(frozen=True)
class Check:
    """A line of the sheet.

    kind: number (of a quantity, passed within `good`, noted within `fair`), choice (of options),
    tear, bare_shaft, walk_back, or card (answered by the card). `hangs_on`: the result which, made
    stale, asks for it again. `required` for the gate. `leaves_mrad`: what one that nobody looked at usually leaves
    open on the target [mrad], nought where it is not a matter of the target; `absent`: how one says that the bow has
    no such thing, empty where every bow has it.
    """

    key: str
    name: str
    do: str
    why: str
    kind: CheckKind = "choice"
    options: tuple[Option, ...] = ()
    quantity: str = ""
    good: float = 0.0
    fair: float = 0.0
    remedy: str = ""
    hangs_on: str = "tune"
    required: bool = True
    leaves_mrad: float = 0.0
    absent: str = ""


def _choice(key: str, name: str, do: str, why: str, *options: Option, **more: object) -> Check:
    return Check(key, name, do, why, "choice", options, **more)  # type: ignore[arg-type]


CHECKS = {
    check.key: check
    for check in (
        Check(
            "rest_centred",
            "Rest centred",
            "Measure how far the rest stands from the string's plane.",
            "An arrow out of the string's plane needs windage that grows with distance.",
            "number",
            quantity="length",
            good=0.0005,
            fair=0.0015,
            remedy="Move the rest until arrow and string lie in one plane through the riser.",
            leaves_mrad=1.0,
            absent="no rest: shot off the shelf or the hand",
        ),
        Check(
            "arrow_square",
            "Nock against square",
            "Measure how far the nock stands from square.",
            "The nocking point sets the height of every mark; a nock too high or low sends the arrow off kicking.",
            "number",
            quantity="length",
            good=0.002,
            fair=0.004,
            remedy="Move the nocking point or the rest until the arrow stands square to the string, or a hair nock high.",
            leaves_mrad=1.0,
        ),
        _choice(
            "nock_fit",
            "Nock fit",
            "Snap a nock on and tap the string.",
            "A pinched nock pulls the string along and scatters the speed.",
            Option("free", "snaps on, falls off at a tap", PASS),
            Option("pinched", "pinched between knots or serving", FAIL, "Open the gap or change the nock or serving."),
            Option("loose", "loose on the serving", FAIL, "Build up the serving or change the nock: it may fall off."),
        ),
        _choice(
            "rest_up",
            "Drop-away rest",
            "Draw, and watch the rest come up.",
            "A rest that comes up late, or meets the arrow, moves impacts without a rule.",
            Option("clear", "fully up at draw, clear at the shot", PASS),
            Option("fixed", "no drop-away on this bow", PASS),
            Option("late", "not fully up at full draw", FAIL, "Shorten its cord or move its clamp, then look again."),
            Option("touches", "touches shaft or vanes", FAIL, "Turn the nock or time the rest; powder shows where."),
            leaves_mrad=2.0,
            absent="no drop-away on this bow",
        ),
        _choice(
            "d_loop",
            "D-loop",
            "Look at the D-loop's ends.",
            "Ends on one side twist the string and the peep with it; a loose loop creeps.",
            Option("good", "ends on opposite sides, pulled down hard", PASS),
            Option("same_side", "both ends on one side", FAIL, "Tie it again with the ends on opposite sides."),
            Option("loose", "not pulled down hard", FAIL, "Pull it down hard with pliers, off the bow's line."),
            Option("none", "no loop on this bow", PASS),
        ),
        Check(
            "string_shots",
            "Shots since the string was fitted",
            "Count the shots on this string.",
            "A new string stretches: peep, timing and draw weight move until it has settled.",
            "number",
            quantity="count",
            good=float(SHOTS_SETTLED),
            remedy="Shoot it in before the sight is set: some 150 shots.",
            hangs_on="peep_rotation",
            leaves_mrad=2.0,
        ),
        _choice(
            "peep_rotation",
            "Peep at full draw",
            "Watch the peep come round at full draw.",
            "A peep that turns changes the picture, and its height with it. Twist can come back.",
            Option("straight", "comes back straight every time", PASS),
            Option("eighth", "turns up to an eighth", NOTE, "Shoot on and look again before the tape."),
            Option("more", "turns more", FAIL, "Half a twist in one half of the string, or shoot it in further."),
            Option("none", "no peep", PASS),
            hangs_on="peep_rotation",
            leaves_mrad=1.5,
            absent=NO_PEEP,
        ),
        Check(
            "cam_timing",
            "Draw stops apart",
            "Measure how far apart the draw stops meet.",
            "Cams that stop apart throw the nock up or down, and differently as the string ages.",
            "number",
            quantity="length",
            good=0.001,
            fair=0.002,
            remedy="Twist the cable of the late cam in a press, as the bow's maker says; when unsure, a qualified shop.",
            hangs_on="timing",
            leaves_mrad=1.0,
            absent="no draw stops to compare",
        ),
        _choice(
            "servings",
            "Strings, cables, servings",
            "Look along strings, cables and servings.",
            "A serving that parts moves the peep or the nock, and a cut strand is the end of the day.",
            Option("sound", "sound, waxed, nothing moves", PASS),
            Option(
                "worn",
                "worn or separating",
                FAIL,
                "Do not draw it until somebody qualified has looked.",
                True,
                ("passed",),
            ),
            Option("cut", "a strand is cut or frayed", FAIL, "Do not draw it. New string or cable first.", True),
            Option("passed", "worn, and somebody qualified says: draw it", NOTE, "Look again before every session."),
        ),
        Check(
            "limb_bolts",
            "Limb bolts apart",
            "Count the turns of both limb bolts.",
            "Uneven bolts move the nock's path; they are part of the draw weight on the card.",
            "number",
            quantity="turn",
            good=0.0625,
            fair=0.125,
            remedy="Bring both to the same number of turns, within what the bow's maker allows.",
            leaves_mrad=0.7,
            absent="no limb bolts that turn",
        ),
        _choice(
            "looseness",
            "Look round for looseness",
            "Try every joint for looseness.",
            "One loose screw undoes every reading that follows.",
            Option("tight", "everything tight", PASS),
            Option("tightened", "something was loose, now tight", NOTE, "Shoot a few, then look at it again."),
            Option("loose", "something is loose", FAIL, "Tighten it with the right key before going on."),
        ),
        _choice(
            "ties",
            "Ties of peep and string marks",
            "Look at the ties of peep and string marks.",
            "Secured before shooting they sit where the string was; secured after, where it is.",
            Option("secured", "secured after shooting, looked at again", PASS),
            Option("temporary", "still temporary", NOTE, "Shoot, check the heights, then secure them and check again."),
            Option("none", "none on this bow", PASS),
            hangs_on="peep_height",
            leaves_mrad=1.0,
            absent="nothing is tied",
        ),
        _choice(
            "eyes_closed",
            "Peep, drawn with eyes closed",
            "Draw with eyes closed, settle, open them.",
            "The head that looks for the peep never finds the same place twice.",
            Option("there", "the peep is there when the eyes open", PASS),
            Option("high", "the peep is too high", FAIL, "Let down first, then lower it a little."),
            Option("low", "the peep is too low", FAIL, "Let down first, then raise it a little."),
            Option("none", "no peep: nose and string mark agree", PASS),
            hangs_on="peep_height",
            leaves_mrad=1.5,
            absent=NO_PEEP,
        ),
        _choice(
            "shafts",
            "Shafts",
            "Spin, flex and number the shafts.",
            "A bent or cracked shaft is a wild shot waiting for the last end.",
            Option("good", "straight, flexed and inspected, numbered", PASS),
            Option("unchecked", "not looked at one by one", NOTE, "Spin and flex each, and number them."),
            Option(
                "bad", "some are bent or cracked", FAIL, "Take them out; a cracked carbon shaft can break at the shot."
            ),
        ),
        Check(
            "spine",
            "Spine, weight and margins",
            "Look over the arrow on the card.",
            "A shaft for another draw weight flies, and drops, otherwise.",
            "card",
            remedy="See the maker's chart, and the warnings on the card.",
        ),
        Check(
            "paper_tear",
            "Paper tear",
            "Shoot through paper and place the tear.",
            "A clean hole says that the arrow leaves straight: then left and right belong to the sight.",
            "tear",
            leaves_mrad=2.0,
        ),
        Check(
            "bare_shaft",
            "Bare shaft against fletched",
            "Shoot a bare shaft beside the fletched ones.",
            "Vanes hide what a bare shaft shows.",
            "bare_shaft",
            required=False,
            leaves_mrad=1.0,
        ),
        Check(
            "walk_back",
            "Walk-back",
            "Walk back along a plumb line with the near pin.",
            "A line that slants or bends is not the sight's, and no windage will cure it.",
            "walk_back",
            required=False,
            leaves_mrad=1.0,
        ),
    )
}
