"""How an axis is read, as data: each method with its steps, what it sees and what it does not."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Method:
    """A method: how to set it up, what it sees and does not, its caution, how much its figure
    decides when several disagree (more decides), and where the reference sits."""

    key: str
    name: str
    steps: tuple[str, ...]
    sees: str
    blind_to: str
    caution: str = ""
    rank: int = 0
    full_draw: bool = False
    reference_at: str = "riser"


_VISE = "The vise holds the bow, not you: check its jaws before the bow is tilted."
_BOARD = "Rated draw board, locked and tied. Hands off string and cables; nobody in the line of the arrow."
_HAND = (
    "Arrow on the string, pointing at a butt behind the line, finger off the trigger, nobody in front. "
    "Read, let down, then turn."
)
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
    ),
    "second": (
        Method(
            "to_string",
            "square to the string",
            ("Bow plumb by the string level.", "Read reference and sight together, at rest, level."),
            "the vial against the string",
            "a rail that leans: the two schools then differ by it",
            reference_at="string_rest",
        ),
        Method(
            "to_rail",
            "square to the rail",
            ("Level on the rail as the reference.", "Read it and the sight together, bow level."),
            "the vial against the rail",
            "a bow that is not plumb",
            reference_at="rail",
        ),
    ),
    "third": (
        Method(
            "board_string",
            "draw board, full draw, rod or reference on the string",
            (
                "Draw board tilted down, then up if it can be.",
                "Reference lined up on the string.",
                "Read both vials, wait, tap, read again.",
            ),
            "draw twist from the cables",
            "the archer's hand",
            _BOARD,
            40,
            True,
            reference_at="string",
        ),
        Method(
            "hand_plumb",
            "by hand at full draw, tracking a plumb line up and down",
            (
                "A helper reads the vial while you track a plumb line or door frame, up and down.",
                "Repeat, and average.",
            ),
            "draw twist and hand",
            "small errors: it needs a helper and repeats",
            _HAND,
            50,
            True,
            reference_at="plumb",
        ),
        Method(
            "board_riser",
            "draw board, full draw, reference on a flat of the riser",
            ("Reference on a machined flat near the grip.", "Tilt, read both, tilt the other way, read both."),
            "flex between that seat and the sight under load",
            "twist of the whole riser against string and arrow; the hand",
            _BOARD,
            20,
            True,
            reference_at="riser",
        ),
        Method(
            "vise_string",
            "in the vise at rest, reference on the string",
            ("Vise tilted down, then up.", "Reference clipped square on the string.", "Read both."),
            "sight and riser at rest, against the string",
            "draw twist",
            _VISE,
            15,
            reference_at="string_rest",
        ),
        Method(
            "vise_riser",
            "in the vise at rest, reference on the riser",
            ("Vise tilted down, then up.", "Reference on a machined flat near the grip.", "Read both."),
            "sight and riser at rest",
            "draw twist",
            _VISE,
            10,
            reference_at="riser",
        ),
        Method(
            "bench_jig",
            "bench jig, sight off the bow, tilted up and down",
            ("Sight in the jig, jig level.", "Tilt up and down, read both."),
            "squareness of the sight to its own mount",
            "the riser, the mount, draw twist",
            "",
            5,
            reference_at="jig",
        ),
        Method(
            "shooting",
            "shooting it in: groups steeply up and down at one target",
            (
                "A safe slope, a calm day, groups up and down at the same target.",
                "Type what the bubble must show to bring them together.",
            ),
            "everything",
            "wind; it needs many arrows",
            "Know what is behind and beyond the target, more so from above.",
            60,
            True,
            reference_at="arrows",
        ),
    ),
}
BY_KEY = {method.key: method for methods in METHODS.values() for method in methods}
