"""What to do at an axis, in one sentence that can be obeyed: which screw, which way, how much."""

from __future__ import annotations

import math

from cross_staff.core.level import screws as adjust
from cross_staff.core.level.axis import AxisState, adjusts, moves_freely, screw_of
from cross_staff.core.level.methods import BY_KEY, LINES, ON_RAIL, WANDER
from cross_staff.core.level.rests import rests_at
from cross_staff.core.level.station import LevelState
from cross_staff.core.level.units import beside, kind_beside
from cross_staff.core.rig.card import SEATS, RigCard
from cross_staff.core.rig.sight import Screw
from cross_staff.web.level.words import LABELS, NAMES, amount, bubble, stands, tilt, turn, way

Said = tuple[str, str, str]
SHUT = (
    "Get the bow ready first.",
    "Everything is levelled to string and arrow: they must stand before the sight does.",
    "Levelling a bow that is tuned afterwards is done twice.",
)
_LEVELS = {
    "reference": ("Prove the reference level.", "would go into every axis"),
    "string": ("Prove the string level.", "would go into every axis, for the string decides"),
    "rail": ("Prove the level for the rail.", "would go into the first axis"),
}
_SENSES = {
    "first": ("lean the top of the rail to the archer's right", "lean the top of the rail to the archer's left"),
    "second": (
        "turn the housing clockwise, as the archer sees it",
        "turn the housing anticlockwise, as the archer sees it",
    ),
    "third": (
        "swing the end of the housing at the archer's right forward, to the target",
        "swing the end of the housing at the archer's right back, to the archer",
    ),
}
_READ = {
    "first_look": ("Read the {name}.", "As found is kept before anything is touched."),
    "second_look": ("Read the {name} once more.", "One look alone does not settle it, and a slip would pass unseen."),
    "looks_apart": (
        "Those two looks differ. Read again.",
        "A bubble that had not settled, or an eye that was not square-on.",
    ),
    "not_sure": ("Read the {name} again.", "It lies too near the limit to be sure; a look costs less than a turn."),
    "other_tilt": (
        "Read the {name} tilted the other way, {tilt}.",
        "At one tilt alone the second axis, or the seat of the reference, could pass for it.",
    ),
    "on_bow": (
        "Read the {name} on the bow.",
        "The jig saw the sight against its own mount; how the riser holds that mount is seen here alone.",
    ),
    "quick_only": (
        "Lay the level on the rail.",
        "A wandering housing shows what leans more than half a degree; what is left, the level tells.",
    ),
    "other_place": (
        "Read the {name} near the rail's other end.",
        "A rail can be bent or worn: one end alone does not tell how it leans.",
    ),
    "fewer_there": (
        "Read the {name} tilted the other way, {tilt}.",
        "It was looked at less there; what both tilts leave open, one of them cannot settle.",
    ),
    "seat_moved": (
        "Read the {name} where the reference now sits.",
        "The looks so far were read against another seat, which cannot be matched any more.",
    ),
}


def now(level: LevelState, card: RigCard) -> Said:
    """What to do: the imperative sentence, how it should look, and why."""
    if level.step in _LEVELS:
        return _proved(level.step)
    if level.step == "match":
        return _match(level)
    if level.step == "done":
        return _done(level)
    if level.current is None:
        return _IN_JIG if level.in_jig and level.step == "squared" else _UNTIL_AXES[level.step]
    return order(level, level.axes[level.current], card)


def _done(level: LevelState) -> Said:
    """Nothing more to do: good, or left so in writing, which is another thing."""
    if level.label:
        why = "What its tool does not see is not decided: the label stays until full draw or arrows decide."
        return f"Done, {LABELS[level.label]}.", "Lock, mark the joints, and print the record.", why
    accepted = [NAMES[axis] for axis in level.required if level.axes[axis].accepted]
    if accepted:
        why = "The other axes are inside their tolerance, read locked, and read again after the later ones were turned."
        return f"Done: {' and '.join(accepted)} accepted in writing.", "Lock, mark, and print the record.", why
    return _UNTIL_AXES["done"]


def _proved(kind: str) -> Said:
    say, why = _LEVELS[kind]
    how = "Read it, turn it end for end, read it again, both towards the same side of the room."
    return say, how, f"Half the difference is its own error, and {why}."


def _match(level: LevelState) -> Said:
    where = SEATS[level.seat] if level.seat else "on its seat"
    return (
        "Read the reference beside the string level.",
        f"Bow plumb by the string level; the reference where it now sits: {where}. Read both.",
        "A reference put on a new seat rolls with it, by up to a degree and a half: one reading of both takes it out.",
    )


_UNTIL_AXES = {
    "plumb": (
        "Set the bow plumb both ways.",
        "String level on the string. Fore and aft first: turned round a string that leans, it reads otherwise. Then, "
        "square across the bow, side to side. Read the reference on its seat beside it.",
        "The string decides; a straightedge across the limb pockets only confirms.",
    ),
    "squared": (
        "Squared as far as this tool can tell.",
        "Nothing more to turn here: read it at full draw, shoot it on a slope, or leave it so in writing.",
        "What the tool does not see cannot be turned away.",
    ),
    "done": (
        "Good enough: stop.",
        "Lock, mark the joints, and print the record.",
        "Every axis is inside its tolerance, read locked, and read again after the later ones were turned.",
    ),
}


_IN_JIG = (
    "Squared in the jig.",
    "Nothing more to turn on the bench: put it on the bow and read on, or leave it so, bench only, by name.",
    "How the riser holds its mount, and what full draw does, are seen on the bow alone.",
)


def order(level: LevelState, state: AxisState, card: RigCard) -> Said:
    """What to do at one axis."""
    action = state.action
    if state.accepted:
        say = f"The {NAMES[state.axis]} is accepted in writing."
        return say, "What it is stays on the record. Read it again, or turn it: then it is open again.", state.accepted
    if action.kind == adjust.TURN:
        return _turn(level, state, card)
    if action.kind == adjust.ASK:
        return _ask(level, state, card)
    if action.kind == adjust.SQUARED:
        return _UNTIL_AXES["squared"]
    if action.kind == adjust.GOOD:
        return f"The {NAMES[state.axis]} is good enough.", "Go on to the next, or read it again.", ""
    return _read(level, state, card)


def _read(level: LevelState, state: AxisState, card: RigCard) -> Said:
    name, method = NAMES[state.axis], BY_KEY[state.method]
    because = state.action.because
    words = {"name": name, "tilt": tilt(-state.pitch_rad)}
    say, why = (each.format(**words) for each in _READ[because])
    if method.reads == "arrows":
        shoot = "Shoot a group downhill." if state.pitch_rad > 0.0 and state.looks else "Shoot a group uphill."
        return shoot, "Bubble centred, aimed at the middle; type where the group's middle hit.", why
    if state.standing == "recheck":
        return say, "Locked, as it now stands.", "Another axis was turned since: this one may have moved with it."
    if because == "first_look" and (state.by_eye or state.now is not None):
        why = "It was turned since the last look."
    look = "Wait until it rests, tap once, read square-on" + (
        ", both vials together." if kind_beside(state.axis, state.method) else "."
    )
    if "hand" in method.parts:
        line = LINES.get(state.place, "rod on the string")
        look = (
            f"You hold the bow to the {line}, at full draw; a helper beside you reads the vial out loud. Then let down."
        )
    if state.place in ON_RAIL:
        look = f"Level square on the rail {ON_RAIL[state.place]}. {look}"
    beside_it = kind_beside(state.axis, state.method)
    if not state.unit.calibrated and beside_it:
        rests = rests_at(card.level, level.log, state.axis, state.method)
        what = {"reference": "the reference", "rail": "the level on the rail", "jig": "the jig's level"}[beside_it]
        by = "jig" if beside_it == "jig" else "bow"
        look = f"The vials are not calibrated: bring {what} to {stands(rests)}, by the {by}. {look}"
    return say, look, why


def _calibrate(state: AxisState, card: RigCard) -> Said:
    """Lines that are only guessed cannot show what may be left: a known cant tells them."""
    other = beside(card.level, state.axis, state.method)
    how = (
        "From level, cant it by a line or two. The level beside it is calibrated, and tells by how much."
        if other is not None and other.per_division_rad is not None
        else "Shim one end of the jig, by the amount below over the length it stands on."
        if BY_KEY[state.method].on_bench
        else "Hang a plumb line beside the string. From plumb, cant the bow until the string's lower end stands off "
        "the line by the amount below."
    )
    limit = f"{math.degrees(state.tolerance):.2f}°"
    return (
        f"Calibrate these vials: cant the {'jig' if BY_KEY[state.method].on_bench else 'bow'} on purpose.",
        f"{how} How many lines did each bubble move?",
        f"Nobody knows what a line of these is; guessed coarse enough to be safe, they cannot show {limit}.",
    )


def _ask(level: LevelState, state: AxisState, card: RigCard) -> Said:
    because = state.action.because
    if because in _LEVELS:
        return _proved(because)
    if because == "match":
        return _match(level)
    if because == "calibrate":
        return _calibrate(state, card)
    if because == "second_first":
        return (
            "Level the second axis first.",
            "Its bubble lies at the end of its glass; read the second axis level, bring it in, and come back.",
            "Tilted, a second axis that is off holds the bubble there as well: nobody can tell which it is.",
        )
    if because == "stuck":
        return (
            f"The {NAMES[state.axis]} does not come.",
            "Look at the bow in its vise, the mount's bolts, and the vial in its seat; or accept it in writing below.",
            "Several turns, and its bubble still lies at the same end.",
        )
    return (
        f"These looks cannot prove the {NAMES[state.axis]}.",
        f"It stands near {amount(state, state.now.value if state.now else 0.0)}: accept it in writing below, "
        "allow more, or read it with a finer vial.",
        "What they leave open is more than it may be off; another turn would not be told from it.",
    )


def _turn(level: LevelState, state: AxisState, card: RigCard) -> Said:
    """Which screw, which way, how much; or the bubble to aim for where there is nothing to count."""
    screw, action = screw_of(card, state.axis), state.action
    name = screw.name[0].lower() + screw.name[1:] if screw else f"{NAMES[state.axis]} screw"
    if not adjusts(card, state.axis):
        return _shim(state, card)
    if moves_freely(card, state.axis) or action.because == "watch":
        return _watched(state, name, screw, moves_freely(card, state.axis))
    if action.because == "coarse":
        return _coarse(state, name, screw)
    amount_words = turn(action.turns)
    if screw is not None and screw.drive == "pair":
        driven, loosened = screw.ends if action.turns > 0 else screw.ends[::-1]
        say = f"{screw.name}: loosen the {loosened} screw {amount_words}, then drive the {driven} one as much."
    else:
        say = f"Turn the {name} {amount_words} {way(action.turns)}."
    return say, " ".join(_how(state, screw)), _why(state)


def _how(state: AxisState, screw: Screw | None) -> list[str]:
    how = []
    if screw and screw.unlock_first:
        how.append(f"Unlock first, by {screw.unlock_first}.")
    if screw and screw.drive == "pair" and not screw.pair:
        how.append("Put a dot of marker beside one of the two: that is the dotted one.")
    if state.action.move is not None and BY_KEY[state.method].reads != WANDER:
        lines = state.lines_for(state.action.move)
        how.append(f"The bubble should come {bubble(lines).replace('in the middle', 'hardly at all')}.")
    how += _locking(state)
    how.append("Lock, wait, read again at the same tilt.")
    return how


def _locking(state: AxisState) -> list[str]:
    """What locking itself moves, once that was seen."""
    if state.tightening is None or abs(state.lines_for(state.tightening)) < 0.1:
        return []
    return [f"Locking moves it {bubble(state.lines_for(state.tightening))}: stop that much short."]


def _watched(state: AxisState, name: str, screw: Screw | None, free: bool) -> Said:
    """The bubble itself is the measure: a ring or slotted holes, or a screw of which nobody knows what a turn does."""
    unlock = f"Unlock first, by {screw.unlock_first}. " if screw and screw.unlock_first else ""
    why = (
        "A ring and slotted holes have no turns to count: the bubble itself is the measure."
        if free
        else "Nobody knows yet what a turn of this screw does: the bubble shows it. Turns that you count teach it."
    )
    loose = "Just loose: " if free else ""
    if state.beyond is not None:
        sense = sense_of(state.axis, -state.beyond.side)
        return f"Move the {name} until its bubble leaves the end.", f"{unlock}{_first(loose + sense)}.", why
    move = state.action.move or 0.0
    how_far, lines = state.until or ("stands", 0.0)
    verb = "move" if free else "turn"
    if how_far == "come":
        say = f"Let down. Then {verb} the {name} until its bubble has come {bubble(lines)}."
        from_where = ["At the same tilt, from where the bubble stands at rest."]
    else:
        say = f"{_first(verb)} the {name} until its bubble stands {bubble(lines)}."
        from_where = ["The bow and the reference stay where they are."]
    about = [f"Likely about {turn(state.action.about)} {way(state.action.about)}."] if state.action.about else []
    how = [f"{unlock}{_first(loose + sense_of(state.axis, move))}.", *_pair(screw), *about, *from_where]
    return say, " ".join([*how, *_locking(state), "Lock, wait, read again."]), why


def _first(words: str) -> str:
    return words[0].upper() + words[1:]


def _pair(screw: Screw | None) -> list[str]:
    """How two screws that oppose each other are turned while the bubble is watched."""
    if screw is None or screw.drive != "pair":
        return []
    first, other = screw.ends
    dot = [] if screw.pair else ["Put a dot of marker beside one of the two: that is the dotted one."]
    return [
        *dot,
        f"Loosen the {first} screw as you drive the {other} one, or the other way round: the bubble says which.",
    ]


def _coarse(state: AxisState, name: str, screw: Screw | None) -> Said:
    """A bubble at the end of its glass, and nobody knows what its screw does."""
    assert state.beyond is not None
    tilted = state.beyond.side * (math.sin(state.pitch_rad) if state.axis == "third" else -1.0)
    high = "right" if tilted > 0.0 else "left"
    pair = screw is not None and screw.drive == "pair"
    first, other = screw.ends if screw else ("", "")
    how = (
        f"Loosen the {other} screw a quarter, drive the {first} one a quarter, and look: if that end rises, the other "
        "way round. "
        if pair
        else "A quarter at a time; if that end rises, turn the other way. "
    )
    say = f"Turn the {name} while you watch: the {high} end must come down."
    unlock = f"Unlock first, by {screw.unlock_first}. " if screw and screw.unlock_first else ""
    stop = (
        "Stop when the bubble stands near its middle."
        if BY_KEY[state.method].watched == "here"
        else "Stop when the bubble leaves the end, or after a turn."
    )
    return (
        say,
        f"{unlock}{how}{stop} Lock, and read.",
        "The bubble lies at the end of its glass: it tells which way, not how far.",
    )


def _shim(state: AxisState, card: RigCard) -> Said:
    """An axis without adjustment: a shim at the mount moves it, and the whole sight with it."""
    off = state.beyond.side * state.beyond.least if state.beyond else state.now.value if state.now else 0.0
    outward = 1.0 if card.handed == "right" else -1.0
    if state.axis == "third":
        edge = "front" if off * outward > 0.0 else "rear"
    else:
        edge = "lower" if off * outward > 0.0 else "upper"
    thick = 10.0 * math.tan(min(abs(off), 0.2))
    return (
        f"The {NAMES[state.axis]} of this sight does not adjust: shim it, or accept it.",
        f"A shim behind the {edge} edge of the mount, {thick:.2f} mm for every 10 mm from edge to edge"
        f"{', at least' if state.beyond else ''}; read again. Or accept it in writing below.",
        "It is measured all the same: what it costs stands beside it. A shim moves every axis.",
    )


def sense_of(axis: str, move: float) -> str:
    """Which way an axis is to be moved, as seen: clockwise, to the right, forward are positive."""
    return _SENSES[axis][0 if move > 0.0 else 1]


def _why(state: AxisState) -> str:
    if state.action.because == "back":
        return "The last turn took the bubble to the end of its glass: the other way."
    if state.other_way:
        return "This screw goes the other way than its card says; the last turn showed it."
    if state.overshot:
        return "The last turn went past the middle: a little back."
    if state.action.because == "test_turn":
        return "A small test turn: nobody knows yet what a turn of this screw does, or which way."
    if state.action.because == "test_again":
        return "The last turn moved hardly anything that can be told: twice as much, the same way."
    angle_per_turn = state.angle_per_turn
    if angle_per_turn is None:
        return ""
    per = abs(state.lines_for(angle_per_turn.value))
    part = 196.0 * angle_per_turn.sd / abs(angle_per_turn.value)
    count = len(state.turns)
    return f"{count} turn{'s' if count > 1 else ''} so far moved it {per:.1f} lines a turn, within {part:.0f} %."


def caution(level: LevelState) -> str:
    """The caution of the method in use."""
    if level.current is None:
        return ""
    return BY_KEY[level.axes[level.current].method].caution
