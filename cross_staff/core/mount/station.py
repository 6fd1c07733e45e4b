"""The steps of mounting a sight, as data: order of assembly, centring, checks; and the joints that
are worth a witness mark, in the order in which they are put back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, newest

STATION = "mount"


class StepAnswer(StrEnum):
    """How a step went."""

    DONE = "done"
    SKIPPED = "skipped"
    WRONG = "wrong"


DONE, SKIPPED, WRONG = StepAnswer
GROUPS = {"assembly": "Order of assembly", "centring": "Centre before the first arrow", "checks": "Check it"}


@dataclass(frozen=True)
class MountStep:
    """A step: in three words, what to do, what to look for, what to do when it is not so, the caution that applies;
    only for sights whose housing is dialled, or that have an extension, where it says so; stays: it is not done again
    when the sight is moved."""

    key: str
    group: str
    say: str
    do: str
    look_for: str
    otherwise: str = ""
    caution: str = ""
    dialled: bool = False
    extension: bool = False
    stays: bool = False


ORDER = "order"
STEPS = (
    MountStep(
        ORDER,
        "assembly",
        "Lay out what blocks what.",
        "Lay out quiver bracket, mount, slide and wheel, and see what blocks what.",
        "What goes on first is written down; the outlines of quiver and wheel, below, say which of the two.",
        stays=True,
    ),
    MountStep(
        "threads",
        "assembly",
        "Choose how each thread is kept.",
        "Choose for each mount bolt: a little anti-seize if it comes off again, thread-locker if it stays. Never both.",
        "Clean threads; the bolts start by hand.",
        caution="Thread-locker: keep it off skin and eyes.",
        stays=True,
    ),
    MountStep(
        "mount_bolts",
        "assembly",
        "Fit both mount bolts.",
        "Fit both mount bolts, snug them in turn, then tighten with the right key.",
        "The mount sits flat on the riser and cannot be rocked.",
        "Look for dirt or a burr under it.",
    ),
    MountStep(
        "detent",
        "assembly",
        "Set the extension to its place.",
        "Set the extension to the planned place and lock it.",
        "The place shows the same mark on both sides; a quick-release is proved engaged by pulling at it.",
        extension=True,
    ),
    MountStep(
        "slide_free",
        "assembly",
        "Run the slide from stop to stop.",
        "Unlock the slide and run it through its whole travel.",
        "It runs evenly to both stops.",
        "Find what rubs before going on.",
        caution="Never force a slide while it is locked, nor drive it against its lock.",
        dialled=True,
        stays=True,
    ),
    MountStep(
        "micro_middle",
        "centring",
        "Put micro windage in the middle.",
        "Put micro windage in the middle of its travel.",
        "As many clicks to one side as to the other.",
        stays=True,
    ),
    MountStep(
        "plane",
        "centring",
        "Sight along string, track and arrow.",
        "Sight along string, cam track and arrow from behind, bow plumb in the vise.",
        "String, track and arrow lie in one plane through the riser.",
        "That is the rest or the cam: go back to Prepare.",
        stays=True,
    ),
    MountStep(
        "coarse",
        "centring",
        "Bring the pin into that plane.",
        "Bring the pin into that plane with the coarse adjustment.",
        "String, arrow and pin in one plane by eye, micro windage still in the middle.",
        "Use the housing's own left and right, or spacers under the mount.",
    ),
    MountStep(
        "home",
        "centring",
        "Find the home position.",
        "Run the slider to its planned home position and note where the pointer stands.",
        "Home comes back to the same line three times.",
        dialled=True,
    ),
    MountStep(
        "play",
        "checks",
        "Wiggle every joint.",
        "Wiggle housing, rail, extension and mount, each against the next.",
        "Nothing moves, nothing clicks.",
        "Find the joint, and alternate opposing screws when tightening it.",
    ),
    MountStep(
        "lock",
        "checks",
        "Lock, one joint at a time.",
        "Lock at the end, one joint at a time.",
        "No two joints are loose at once, and the pin has not moved.",
        caution="Small screws shear: the right key, no more than two fingers.",
    ),
    MountStep(
        "clear_top",
        "checks",
        "Look for clearance at the near end.",
        "At the near end look between housing and riser, wheel and quiver, rest and housing.",
        "Clear all round, also with the quiver full.",
    ),
    MountStep(
        "clear_bottom",
        "checks",
        "Look for clearance at the far end.",
        "At the far end look between the housing's lower edge and an arrow on the rest.",
        "Shaft and vanes pass clear; the planner's clearance is there.",
        "Set the housing lower on its post at home, or give up the far end.",
        dialled=True,
    ),
)

JOINTS = (
    "mount on the riser",
    "dovetail place",
    "rail block",
    "housing on its post",
    "second axis",
    "third axis",
    "pointer",
    "rest",
    "nock set",
    "peep",
    "side bar",
    "quiver",
    "nose button",
    "D-loop",
)


@dataclass(frozen=True)
class MountStepState:
    """A step with the entry that holds, and how it stands: done, skipped, wrong, old or '' (open)."""

    step: MountStep
    entry: BenchEntry | None
    state: str


QUIVER, WHEEL, EITHER, CLASH = "quiver", "wheel", "either", "clash"
SAME_DEPTH_MM = 2.0  # parts that stand this alike from the riser cannot pass each other


def goes_on_first(card: RigCard) -> str | None:
    """Which of quiver bracket and wheel goes on first.

    Looked at from the side, where one lies behind the other, the one nearer the riser goes on first: its bolts are
    covered afterwards. Where they do not, either may; where they stand alike from the riser, they meet.

    Args:
        card: of the rig, with both outlines [mm].

    Returns:
        QUIVER, WHEEL, EITHER or CLASH; None while an outline is not known.

    Source:
        two rectangles.
    """
    quiver, wheel = card.mount.quiver, card.mount.wheel
    if not (quiver.known and wheel.known):
        return None
    if not quiver.covers(wheel):
        return EITHER
    nearer = (wheel.out_mm or 0.0) - (quiver.out_mm or 0.0)
    return CLASH if abs(nearer) < SAME_DEPTH_MM else QUIVER if nearer > 0.0 else WHEEL


def steps_for(card: RigCard) -> tuple[MountStep, ...]:
    """The steps that this sight has."""
    dialled, places = card.sight_kind.dialled, card.sight.extension_mm
    return tuple(s for s in STEPS if (dialled or not s.dialled) and (places or not s.extension))


def step_states(
    card: RigCard, log: Sequence[BenchEntry], hold: frozenset[int] | None = None
) -> tuple[MountStepState, ...]:
    """Every step of this sight as it stands.

    Args: hold, the revisions whose entries still hold (None: all of them).
    """
    kept = newest(log)
    return tuple(_state(step, kept.get(step.key), hold) for step in steps_for(card))


def _state(step: MountStep, entry: BenchEntry | None, hold: frozenset[int] | None) -> MountStepState:
    if entry is None:
        return MountStepState(step, None, "")
    if hold is not None and entry.revision not in hold and not step.stays:
        return MountStepState(step, entry, "old")
    return MountStepState(step, entry, entry.choice)


@dataclass(frozen=True)
class WitnessMark:
    """A mark across a joint: which joint, where it is seen, a photo's id, as last entered."""

    line: int
    revision: int
    joint: str
    place: str
    photo_id: int | None = None
    removed: bool = False


def in_order(marks: Sequence[WitnessMark]) -> tuple[WitnessMark, ...]:
    """Marks in the order in which a knocked rig is put back: from the riser outwards, then the bow."""
    rank = {joint: number for number, joint in enumerate(JOINTS)}
    return tuple(sorted(marks, key=lambda mark: (rank.get(mark.joint, len(JOINTS)), mark.line)))


def check_entry(card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be said of a step.

    Raises: NotFound for a step that this sight does not have; InvalidValue with the field.
    """
    if entry.key not in {step.key for step in steps_for(card)}:
        raise NotFound("this sight has no such step")
    if entry.choice not in (DONE, SKIPPED, WRONG):
        raise InvalidValue("state", "choose one from the list")
    if entry.choice == SKIPPED and not entry.note:
        raise InvalidValue("note", "say who confirms it, or why it is left out")


def check_mark(joint: str, place: str, photo: bool) -> None:
    """Refuse a witness mark without its joint, or that nobody could find again. Raises InvalidValue."""
    if not joint:
        raise InvalidValue("joint", "which joint?")
    if not place and not photo:
        raise InvalidValue("place", "say where it is, or add a photo")
