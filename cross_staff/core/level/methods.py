"""How an axis is read, as data: each method with its steps, what it sees and what it does not, and how large that is.

What a method does not see is a sum of parts, each with the sd that it has from bow to bow, and methods share parts:
averaging a jig and a vise does not take their common part out.

Source: docs/method.md, section 12.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

# What is read beside the sight's vial: the clip-on reference, the jig's own level, the level on the rail; with a
# line (plumb line, corner, rod) nothing is, the bow is held to it; on a slope arrows are shot.
# A quick look at the rail reads no vial: how far the housing wanders from a plumb line as the sight is dialled down.
CLIP, JIG, RAIL, LINE, ARROWS, WANDER = "clip", "jig", "rail", "line", "arrows", "wander"
# Where on the rail a level lay, and which line a bow was held to: what a look says of it.
ON_RAIL = {"top": "near its top", "bottom": "near its bottom"}
LINES = {"plumb_line": "plumb line", "corner": "wall corner", "door_frame": "door frame", "rod": "rod on the string"}
PLACES = {"": "not said"} | ON_RAIL | LINES
PART_SD_RAD = {
    part: math.radians(degrees)
    for part, degrees in (
        ("riser", 0.35),  # riser against string
        ("flex", 0.57),  # from rest to full draw
        ("jig_mount", 0.71),
        ("riser_board", 0.19),
        ("string_board", 0.20),
        ("hand", 0.15),
        ("slope", 0.10),  # grip and wind differ up and down
    )
}
LINE_SD_RAD = math.radians(0.15)  # how exactly a bow is held to a line
SEATS_OF = {"string": ("string",), "string_rest": ("string",), "riser": ("flat", "other")}


@dataclass(frozen=True)
class Method:
    """A method: how to set it up, what it sees and does not, its caution, where the reference sits, what is read
    beside the sight's vial, and the parts of the third axis that it does not see."""

    key: str
    name: str
    steps: tuple[str, ...]
    sees: str
    blind_to: str
    caution: str = ""
    full_draw: bool = False
    reference_at: str = "riser"
    reads: str = CLIP
    parts: tuple[str, ...] = ()

    @property
    def seats(self) -> tuple[str, ...]:
        """Where its reference can sit; empty where that is free, or none is read."""
        return SEATS_OF.get(self.reference_at, ()) if self.reads == CLIP else ()

    @property
    def places(self) -> dict[str, str]:
        """Where on the rail its level can lie, or which line a hand can hold the bow to; none where there is no choice."""
        if self.reference_at == "rail" and self.reads in (CLIP, JIG):
            return ON_RAIL
        return {key: LINES[key] for key in ("plumb_line", "corner", "door_frame")} if self.key == "hand_plumb" else {}

    @property
    def on_bench(self) -> bool:
        """Whether the sight is off the bow."""
        return self.reads == JIG

    @property
    def watched(self) -> str:
        """How its bubble can be watched while a screw is turned: `here`, standing as it is read; `let_down`, the bow at
        rest first, where the bubble stands elsewhere but goes as far; empty where nothing holds the bow so."""
        if self.reads in (ARROWS, WANDER) or "hand" in self.parts:
            return ""
        return "let_down" if self.full_draw else "here"

    @property
    def bias_sd_rad(self) -> float:
        """The sd of all that it does not see [rad]."""
        return math.hypot(*(PART_SD_RAD[part] for part in self.parts)) if self.parts else 0.0


_VISE = "The vise holds the bow, not you: check its jaws before the bow is tilted."
_BOARD = "Rated draw board, locked and tied. Hands off string and cables; nobody in the line of the arrow."
_HAND = (
    "Arrow on the string, pointing at a butt behind the line, finger off the trigger, nobody in front. "
    "Read, let down, then turn."
)
_GLASS = "The right key, a little at a time: a vial's glass cracks."
_SENSE_OF_JIG = "the bow: how the riser holds the mount"
METHODS: dict[str, tuple[Method, ...]] = {
    "first": (
        Method(
            "rail_vial",
            "level square on the rail, near both ends",
            (
                "Bow plumb both ways.",
                "Level square on the rail near its top, then near its bottom.",
                "Read reference and rail together.",
            ),
            "the rail against the string",
            "what the rail does when it is dialled under load",
            reference_at="rail",
        ),
        Method(
            "bare_bar",
            "straight level on the bare bar, tape or scale taken off",
            (
                "Take tape or scale off where screw heads stand proud.",
                "Straight level along the bare bar, clamped lightly.",
                "Read both.",
            ),
            "the bar against the string",
            "play between bar and block",
            reference_at="rail",
        ),
        Method(
            "plumb_wander",
            "quick look: the housing against a plumb line, dialled through its travel",
            (
                "Bow plumb both ways, a plumb line hung behind it so that it touches the housing's edge.",
                "Dial from the top of the travel to the bottom, slowly.",
                "How far did the edge wander from the line, and over how much travel?",
            ),
            "a rail that leans so much that it can be seen",
            "less than half a degree: the level on the rail tells that",
            reference_at="line",
            reads=WANDER,
        ),
        Method(
            "jig_rail",
            "bench jig, sight off the bow, level square on the rail",
            (
                "Sight in the jig by its own mount, jig level.",
                "Level square on the rail near its top, then near its bottom.",
                "Read the jig's own level and the rail's together.",
            ),
            "the rail against the sight's own mount",
            _SENSE_OF_JIG,
            _GLASS,
            reference_at="rail",
            reads=JIG,
        ),
    ),
    "second": (
        Method(
            "to_string",
            "square to the string",
            ("Bow plumb by the string level.", "Read reference and sight together, at rest, level."),
            "the vial against the string",
            "a rail that leans: the two schools then differ by it",
            reference_at="bow",
        ),
        Method(
            "to_rail",
            "square to the rail",
            ("Level on the rail as the reference.", "Read it and the sight together, bow level."),
            "the vial against the rail",
            "a bow that is not plumb",
            reference_at="rail",
            reads=RAIL,
        ),
        Method(
            "jig_vial",
            "bench jig, sight off the bow, jig level",
            (
                "Sight in the jig by its own mount, jig level.",
                "Read the jig's own level and the sight's vial together.",
            ),
            "the vial against the sight's own mount",
            _SENSE_OF_JIG,
            _GLASS,
            reference_at="jig",
            reads=JIG,
        ),
    ),
    "third": (
        Method(
            "board_string",
            "draw board, full draw, reference on the string",
            (
                "Draw board tilted down, then up if it can be.",
                "Reference lined up on the string.",
                "Read both vials, wait, tap, read again.",
            ),
            "draw twist from the cables",
            "the archer's hand",
            _BOARD,
            True,
            "string",
            parts=("string_board",),
        ),
        Method(
            "board_rod",
            "draw board, full draw, rod lined up on the string",
            (
                "Rod in the sight, the drawn bow held so that rod and string are one line.",
                "Tilt down, then up if it can be.",
                "Read the sight's vial alone: the line is the reference.",
            ),
            "draw twist from the cables",
            "the archer's hand",
            _BOARD,
            True,
            "line",
            LINE,
            ("string_board",),
        ),
        Method(
            "hand_plumb",
            "by hand at full draw, tracking a plumb line, corner or door frame",
            (
                "You draw and hold the string along a plumb line, wall corner or door frame, tilted down, then up.",
                "A helper beside you, never in front, reads the sight's vial out loud; you let down.",
                "Only then one of you turns the screw, the bow at rest. Draw again, and read again: repeats are averaged.",
            ),
            "draw twist and hand",
            "small errors: it needs a helper and repeats",
            _HAND,
            True,
            "line",
            LINE,
            ("hand",),
        ),
        Method(
            "hand_rod",
            "by hand at full draw, a sighting rod lined up on the string",
            (
                "Rod in the sight, square to its housing. You draw, and turn the bow until rod and string are one line.",
                "A helper beside you, never in front, reads the sight's vial out loud; you let down.",
                "Only then the screw is turned, the bow at rest. Tilted down, then up; repeats are averaged.",
            ),
            "draw twist and hand",
            "small errors: it needs a helper and repeats",
            _HAND,
            True,
            "line",
            LINE,
            ("hand",),
        ),
        Method(
            "board_riser",
            "draw board, full draw, reference on a flat of the riser",
            ("Reference on a machined flat near the grip.", "Tilt, read both, tilt the other way, read both."),
            "flex between that seat and the sight under load",
            "twist of the whole riser against string and arrow; the hand",
            _BOARD,
            True,
            "riser",
            parts=("riser", "riser_board"),
        ),
        Method(
            "vise_string",
            "in the vise at rest, reference on the string",
            ("Vise tilted down, then up.", "Reference clipped square on the string.", "Read both."),
            "sight and riser at rest, against the string",
            "draw twist",
            _VISE,
            False,
            "string_rest",
            parts=("riser", "flex"),
        ),
        Method(
            "vise_riser",
            "in the vise at rest, reference on the riser",
            ("Vise tilted down, then up.", "Reference on a machined flat near the grip.", "Read both."),
            "sight and riser at rest",
            "draw twist",
            _VISE,
            False,
            "riser",
            parts=("riser", "flex"),
        ),
        Method(
            "bench_jig",
            "bench jig, sight off the bow, tilted up and down",
            ("Sight in the jig, jig level.", "Tilt up and down; read the jig's own level and the sight's vial."),
            "squareness of the sight to its own mount",
            "the riser, the mount, draw twist",
            _GLASS,
            False,
            "jig",
            JIG,
            ("riser", "flex", "jig_mount"),
        ),
        Method(
            "shooting",
            "shooting it in: groups steeply up and down at one target",
            (
                "A safe slope, a calm day, windage as it is on the level.",
                "A group uphill and one downhill at the same distance, aimed at the middle with the bubble centred.",
                "Type where each group's middle came in, left or right.",
            ),
            "everything",
            "wind; it needs many arrows",
            "Know what is behind and beyond the target, more so from above.",
            True,
            "arrows",
            ARROWS,
            ("slope",),
        ),
    ),
}
BY_KEY = {method.key: method for methods in METHODS.values() for method in methods}
