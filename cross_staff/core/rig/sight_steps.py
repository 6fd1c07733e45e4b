"""How each kind of sight is sighted in, step by step.

`{pin}`, `{at}`, `{home}`, `{far}`, `{place}`, `{pointer}` and `{pointers}` stand for what the step's own numbers are, in the archer's units.
"""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.rig.procedure import (
    CONFIRM,
    LOWER,
    MARKS,
    PLACE,
    READY,
    ROUGH,
    SETTLE,
    SHOOT,
    SURE,
    ProcedureStep,
)

_FACE = ProcedureStep(
    "face",
    CONFIRM,
    "Hang a face with a plumb line.",
    "Hang a face with a plumb vertical and a level line at {at}, and step up to it.",
    "Spare backstop above, below and behind it; nobody beyond.",
    "The face hangs plumb.",
    at="close",
)


_CLOSE = ProcedureStep(
    "close",
    SHOOT,
    "Shoot at {at}.",
    "Shoot at {at} with {pin}, aiming at the middle.",
    "Hits near the place that is computed for a sight that is right at {home}.",
    "The next distance will surely hit the butt.",
    "the shots, where they hit",
    ROUGH,
    at="close",
    needs=("face",),
)


_HOME = ProcedureStep(
    "home",
    SHOOT,
    "Sight in {pin} at {at}.",
    "Shoot at {at} with {pin}, the sight at its home position.",
    "A group, not an arrow: all arrows so far are counted together.",
    "Six arrows within your circle, not off beyond chance.",
    "the shots, where they hit",
    needs=("close",),
)


_SETTLE = ProcedureStep(
    "settle",
    SETTLE,
    "Settle it.",
    "Shoot on where it is least sure, and take out what all arrows together say.",
    "The last small movements: micro travel, single clicks.",
    "Surely within a quarter of your target, at every aim.",
    "the shots, where they hit",
    SURE,
    needs=("home",),
)


_LOCK = ProcedureStep(
    "lock",
    CONFIRM,
    "Lock it, and mark the joints.",
    "Lock the screws one at a time, and draw the marker lines across every joint that moved.",
    "Nothing creeps while it is locked: shoot three to be sure.",
    "Locked, and the lines are drawn.",
    needs=("settle",),
)


_PLACE = ProcedureStep(
    "place",
    PLACE,
    "Set {pin} to its place.",
    "Set {pin} {place} below the top pin, where it is predicted for {at}.",
    "The pin stands in the housing as drawn; loosen it no more than it needs.",
    "It stands at its predicted place.",
    movement="pin",
    pin="each",
    at="own",
    needs=("home",),
)


_EACH = ProcedureStep(
    "each",
    SHOOT,
    "Sight in {pin} at {at}.",
    "Shoot at {at} with {pin}; move only this pin for height.",
    "Windage is one setting for all pins: it is left alone here.",
    "Six arrows within your circle, not off beyond chance.",
    "the shots, where they hit",
    movement="pin",
    pin="each",
    at="own",
    needs=("home", "place"),
)


_RETRACT = ProcedureStep(
    "retract",
    CONFIRM,
    "Check the retractable pin.",
    "Slide the retractable pin in and out, and bring it in line with the fixed ones; check its height again.",
    "In line with the others, or its windage differs.",
    "In line, and at its height.",
    pin="last",
)


_MARKS = ProcedureStep(
    "marks",
    MARKS,
    "Shoot the dialled marks.",
    "Dial {at} and shoot; the group need not be centred.",
    "The distance that most narrows the tape, as far as your groups allow.",
    "The tape is good to {far}, or says that it gains no more.",
    "the shots and the mark",
    READY,
    "elevation",
    at="own",
    needs=("home",),
)


_STOP_UP = ProcedureStep(
    "stop_up",
    CONFIRM,
    "Run up to the fixed stop.",
    "Run the wheel up to its stop and leave it there; read the mark.",
    "It meets the stop softly. Never take an end-stop screw out to gain travel.",
    "The wheel stands at its stop.",
    "the mark that the scale reads there",
    only_if=(("stop", "fixed"),),
    reads=True,
)


_STOP_ROOM = ProcedureStep(
    "stop_room",
    CONFIRM,
    "Leave room above home.",
    "Back the home stop out of the way, and set the wheel a little below the top of its travel.",
    "Room for a later change of peep or anchor.",
    "There is room above.",
    only_if=(("stop", "settable"),),
)


_STOP_FIT = ProcedureStep(
    "stop_fit",
    CONFIRM,
    "Fit the home stop.",
    "Dial the home mark, bring the stop up to it, and tighten it there; read the mark.",
    "From now on nothing is dialled above it.",
    "The stop is tight at the home mark.",
    "the mark at which it was fitted",
    only_if=(("stop", "settable"),),
    needs=("home",),
    reads=True,
)


_STOP_BACK = ProcedureStep(
    "stop_back",
    CONFIRM,
    "Come back to the stop.",
    "Run the wheel down, and up to the stop again, softly; read the mark.",
    "The mark reads the same as before: else the stop is not held, or the wheel has play.",
    "Coming back to the stop reads the home mark.",
    "the mark that it reads now",
    only_if=(("stop", "settable"),),
    needs=("stop_fit",),
    reads=True,
)


_TAPE_ON = ProcedureStep(
    "tape_on",
    CONFIRM,
    "Lay the tape on.",
    "Cut the strip, and lay it on with its home line under {pointer} while the sight stands at home.",
    "It lies straight and flat, and nothing rubs on it.",
    "The tape is on, and its home line is under the pointer.",
    pin="dialled",
    needs=("marks",),
)


_POINTER = ProcedureStep(
    "pointer",
    CONFIRM,
    "Set the pointers on the tape.",
    "With the sight at home: {pointers}. Hold each, tighten, look again.",
    "A hair of clearance to the tape; the holders mid-range.",
    "Every pointer is on its line after it was tightened.",
    only_if=(("pointer", "to_pin"),),
    pin="dialled",
    at="own",
    needs=("marks", "tape_on"),
)


_ROUND = ProcedureStep(
    "pin_to_pointer",
    SHOOT,
    "Bring {pin} to the pointer at {at}.",
    "Set the pointer on the round distance {at}, and bring {pin} to it by shooting.",
    "Only this pin moves.",
    "Six arrows within your circle, not off beyond chance.",
    "the shots, where they hit",
    movement="pin",
    only_if=(("pointer", "to_round"),),
    pin="each",
    at="own",
    needs=("marks", "tape_on"),
)


_RESERVE = ProcedureStep(
    "reserve",
    CONFIRM,
    "Slow bow: a small reserve on the wheel.",
    "If the near pin needs it, set home with {reserve} of wheel above it, and write it down.",
    "The reserve is for distances inside home only; its price: home is no longer found by the stop alone.",
    "Home is read on the tape, reserve or not.",
    only_if=(("slow", "yes"),),
)


# home moved to a farther distance once the tape is on: the tape then starts there
REHOME = (
    ProcedureStep(
        "rehome_roll",
        CONFIRM,
        "Roll to home.",
        "Run the wheel to the home mark, or up to its stop, and leave it there; read the mark.",
        "The sight stands where it always stands at home.",
        "It stands at home.",
        "the mark that it reads",
        reads=True,
    ),
    ProcedureStep(
        "rehome_number",
        CONFIRM,
        "Lay {at} under the pointer.",
        "With the sight at home move the pointer, or the tape, until the line of {at} stands under it; tighten, look again.",
        "From now on the tape starts there.",
        "The pointer is on the line of {at}.",
    ),
    ProcedureStep(
        "rehome_lower",
        LOWER,
        "Lower the housing for {at}.",
        "The wheel stays at home: the housing goes down, until {pin} is right for {at} there.",
        "Then it is shot at {at}.",
        "The housing was moved.",
        movement="gang_elevation",
    ),
)
FIXED_PINS = (
    _FACE,
    replace(_CLOSE, movement="gang_elevation"),
    replace(_HOME, movement="gang_elevation", look_for="The whole housing moves, up, down and sideways: no single pin yet."),
    _PLACE,
    _EACH,
    _RETRACT,
    _SETTLE,
    _LOCK,
)  # fmt: skip
SINGLE_PIN_SLIDER = (
    _STOP_UP,
    _STOP_ROOM,
    _FACE,
    replace(_CLOSE, movement="elevation"),
    replace(_HOME, movement="elevation", do="Dial the home mark and shoot at {at} with {pin}."),
    _STOP_FIT,
    _STOP_BACK,
    _MARKS,
    _SETTLE,
    _TAPE_ON,
    _POINTER,
    _LOCK,
)  # fmt: skip
MULTI_PIN_SLIDER = (
    _STOP_UP,
    _STOP_ROOM,
    ProcedureStep("stack", CONFIRM, "Put {pin} where the stack sits centred.", "Move {pin} to {centre} above the middle of the housing: there the predicted stack lies centred. Park the other pins out of the way.", "Every pin will have room in the housing, as drawn.", "It stands there, the others are parked."),
    _RESERVE,
    _FACE,
    replace(_CLOSE, movement="gang_elevation"),
    replace(_HOME, movement="gang_elevation", look_for="The whole housing moves; the wheel is for dialling and stays at home."),
    _STOP_FIT,
    _STOP_BACK,
    _PLACE,
    _EACH,
    _RETRACT,
    replace(_MARKS, pin="dialled", needs=("home", "each")),
    _SETTLE,
    _TAPE_ON,
    _POINTER,
    _LOCK,
)  # fmt: skip
VERTICAL_PIN_SLIDER = (
    _STOP_UP,
    _STOP_ROOM,
    _FACE,
    replace(_CLOSE, movement="elevation"),
    replace(_HOME, movement="elevation"),
    _STOP_FIT,
    _STOP_BACK,
    replace(_MARKS, only_if=(("marks", "early"),)),
    replace(_PLACE, pin="second"),
    replace(_EACH, pin="second"),
    replace(_MARKS, pin="dialled", needs=("home", "each"), only_if=(("marks", "late"),)),
    _SETTLE,
    _TAPE_ON,
    _POINTER,
    _ROUND,
    _LOCK,
)  # fmt: skip
GEARED_STACK = (
    _FACE,
    replace(_CLOSE, movement="gang_elevation"),
    replace(_HOME, movement="gang_elevation", look_for="The whole housing moves; the spread is left as it is."),
    replace(_EACH, key="spread", say="Spread the pins at {at}.", do="Shoot at {at} with {pin}; move only the spread.", look_for="One control moves all pins in proportion: two distances fix them all.", movement="spread", pin="last", needs=("home",)),
    replace(_EACH, key="check", say="Check {pin} at {at}.", do="Shoot at {at} with {pin}, which is the least sure of those not shot yet.", look_for="It should be there: nothing is moved for one pin alone.", movement="", pin="widest", needs=("spread",)),
    _SETTLE,
    _LOCK,
)  # fmt: skip
TARGET_SCOPE = (
    ProcedureStep("zero", CONFIRM, "Zero indicator and drum together.", "Bring the indicator onto a whole line of the scale with the drum at nought.", "A line and nought at once: from then on marks read to a tenth of a click.", "Indicator and drum agree."),
    ProcedureStep("click", CONFIRM, "Calibrate a click.", "Turn the drum 100 clicks, and read the travel on the scale; write it on the card if it differs.", "Against the direction of the spring last, to take the play out.", "The card's travel a click is what the scale says."),
    _FACE,
    replace(_CLOSE, movement="elevation"),
    replace(_HOME, movement="elevation", do="Set the drum to the home mark and shoot at {at}."),
    replace(_MARKS, do="Set the drum to {at} and shoot; read the mark to a tenth of a click."),
    _SETTLE,
    _LOCK,
)  # fmt: skip
PIN_DISPLAY = (
    ProcedureStep("figures", CONFIRM, "Enter speed and body measurements.", "Enter into the display what the card has: speed, eye to display, peep height.", "The display's distances are those of the card.", "Its dots stand at the computed places.", only_if=(("dots", "computed"),)),
    _FACE,
    replace(_CLOSE, movement="gang_elevation"),
    replace(_HOME, movement="gang_elevation"),
    ProcedureStep("square", CONFIRM, "Square the display to the eye.", "Turn the display until it stands square to the line from the eye, and lock it.", "No edge of it looks deeper than the other. This may move the reference.", "It is square, and locked."),
    replace(_HOME, key="again", say="Check {pin} again at {at}.", do="Shoot at {at} once more: squaring may have moved the reference.", movement="gang_elevation", needs=("square",)),
    replace(_EACH, key="far", say="Shoot a far group with {pin}.", do="Shoot at {at} with its own dot, and no other; where the group comes in is entered into the display as its offset, and shot once more.", look_for="The offset corrects the figures, so that every dot moves with it.", movement="spread", pin="last", needs=("again",), only_if=(("dots", "computed"),)),
    replace(_PLACE, only_if=(("dots", "by_hand"),), do="Set the dot for {at} to {place} below the reference, where it is predicted."),
    replace(_EACH, only_if=(("dots", "by_hand"),), do="Shoot at {at} with its dot; move only this dot."),
    _SETTLE,
    _LOCK,
)  # fmt: skip
