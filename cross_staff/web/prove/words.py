"""The words of the prove station: the verdict, what is next, why a line does not count."""

from __future__ import annotations

from cross_staff.core.prove.chain import Aside, Chain, ColdShots
from cross_staff.core.prove.locking import Locked, LockLine, LockState, Thread
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.mending import Shift, Stretch
from cross_staff.core.prove.station import MENDED
from cross_staff.core.prove.verdict import Doubt, TapeVerdict, VerdictKind, WantedRow
from cross_staff.core.rig.sight import MOVEMENTS
from cross_staff.core.stations import NextStep
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared.words import CAUTION_RANGE, Now, on_target, whole_distance

CAUTION_SLOPE = "On a slope look twice at what is behind and beyond, more so when shooting from above."
CAUTION_POINTS = (
    "Hunting points only into a butt that takes them, one arrow at a time, nobody near it. Blades cut: a wrench, never "
    "fingers."
)
CAUTION_KNOCK = (
    "After a knock look at limbs, cams, string and every arrow first: bend and listen to each shaft. What is cracked is "
    "not shot; when unsure, a qualified shop."
)
PAGES = (
    ("", "Tape"),
    ("/drift", "Left and right"),
    ("/pairs", "Two groups"),
    ("/slope", "Third axis on a slope"),
    ("/knocked", "After a knock"),
    ("/lock", "Lock"),
    ("/hand-over", "Hand over"),
)
CAUTION_LOCK = (
    "Small screws shear: the right key, two fingers. Thread-locker and anti-seize never together; keep both off skin and "
    "eyes. What the maker says of a screw comes first."
)
LOCK_WAYS = (
    (Thread.DRY.value, "Nothing: tightened dry"),
    (Thread.LOCKER.value, "Thread-locker"),
    (Thread.SEIZE.value, "Anti-seize"),
    (Thread.MOVABLE.value, "It stays movable"),
    (Thread.CLEANED.value, "Thread cleaned, not locked yet"),
)
LOCK_DONE = {
    Thread.DRY: "tightened dry",
    Thread.LOCKER: "thread-locker",
    Thread.SEIZE: "anti-seize",
    Thread.MOVABLE: "stays movable",
    Thread.CLEANED: "cleaned",
    Thread.SPARE: "in the kit",
}
LOCK_STATES = {
    Locked.OPEN: "open",
    Locked.DONE: "locked",
    Locked.READ_AGAIN: "locked, read it again",
    Locked.OLD: "moved since: lock it again",
    Locked.MOVABLE: "stays movable",
}
LOCK_MOVES = MOVEMENTS | {"pointer": "pointer", "rest": "rest", "nock_set": "nocking point"}

STANDING = {
    "no_tape": "nothing printed",
    "which_tape": "which strip is on?",
    "other_arrow": "another arrow's",
    "waits_for_card": "waits for the card",
    "no_lines": "nothing shot by it",
    "lines_old": "{} lines old",
    "cannot_tell": "{} lines, not sure",
    "true": "true, {} lines",
    "handed_over": "handed over",
    "shifted": "shifted",
    "stretched": "stretched",
    "cause_open": "wrong, cause open",
    "one_day": "wrong on one day",
    "days_differ": "lines differ",
    "moved_between": "something moved",
}
WHY_ASIDE = {
    Aside.BEFORE: "before something was done to the bow",
    Aside.OTHER_TAPE: "shot by another tape",
    Aside.OTHER_ARROW: "another build's arrows",
    Aside.NOT_DIALLED: "nothing dialled, or no height",
    Aside.OFF_TAPE: "not on this tape",
    Aside.LABELLED: "one of two groups",
    Aside.COLD: "cold first shots",
    Aside.TOO_STEEP: "too steep to be worth a level distance",
}
LACKS = {
    "target": (
        "The card names no target.",
        "How large a target, and how far: then the lines have something to be held against.",
    ),
    "scale": ("Nobody knows what a millimetre of this tape is.", "The card lacks eye to sight, or the tape ratio."),
    "distances": ("The tape ends before home.", "None of the card's distances is on it: print it farther."),
}
DAYS_DIFFER = "The lines differ from one another by more than arrows and days do."


def next_step(step: NextStep, units: Units) -> Now:
    """The sentence for what to do next here."""
    numbers = step.numbers
    if step.code == "shoot":
        at = whole_distance(units, numbers["ranged_m"])
        say = f"Shoot {numbers['arrows']:.0f} arrows at {at}, by the tape."
        why = "The tape is wrong, and this tells what is wrong with it." if numbers["off"] else "It tells most."
        return Now(say, f"{why} On a day of its own, as you would in earnest.", CAUTION_RANGE, "prove", "Write it down")
    if step.code == "lock":
        say = f"Lock: {step.about}."
        why = (
            f"The tape is true. {numbers['left']:.0f} joint{'s' if numbers['left'] > 1 else ''} to lock, one at a time."
        )
        return Now(say, why, CAUTION_LOCK, "prove/lock", "Lock")
    sayings = {
        "which_tape": ("Say which tape is on the sight.", "Lines count for the tape that they were shot by."),
        "waits_for_card": ("Fill in the card.", "Without it the lines have nothing to be held against."),
        "other_arrow": (
            "Lay on the tape of this arrow.",
            "The one on the sight is for another, and proves nothing of this.",
        ),
        "true": ("The tape is true.", "Lock each screw, mark the joints, print the card."),
        "spare": (
            "Put a spare strip into the kit.",
            "Every joint is locked. A strip that comes off is replaced in the field.",
        ),
        "hand_over": ("Make the card, and hand the rig over.", "The tape is true, and every joint is locked."),
        "handed_over": ("Handed over.", "The card says what to check first, and when to come back."),
        "shifted": ("Move the pointer.", "The lines say that the tape lies shifted."),
        "stretched": ("Another strip, or print anew.", "The lines say that this one is stretched."),
        "days_differ": ("Look at the lines again.", DAYS_DIFFER),
        "moved_between": ("Find what moved.", "The lines before and after a visit do not belong to one place."),
        "tape_ends": ("Print the tape farther.", "It is true as far as it goes, and ends before what is wanted."),
    }
    say, why = sayings[step.code]
    caution, page = (CAUTION_LOCK, FINISHING[step.code]) if step.code in FINISHING else (CAUTION_RANGE, "prove")
    return Now(say, why, caution, page, "Prove")


FINISHING = {"spare": "prove/lock", "hand_over": "prove/hand-over", "handed_over": "prove/hand-over"}


def lock_ways(line: LockLine | None) -> list[tuple[str, str]]:
    """What can be said of a joint, the likeliest first: what dials is opened again."""
    first = Thread.MOVABLE if line is not None and line.joint.dials else Thread.DRY
    return sorted(LOCK_WAYS, key=lambda way: way[0] != first)


def lock_now(line: LockLine | None, state: LockState) -> Now:
    """What to lock now, and why."""
    if line is None:
        say = "Every joint is locked." if state.done else "Put a spare strip into the kit."
        return Now(say, "What follows is the card for who takes the rig.", CAUTION_LOCK, "prove/hand-over", "Hand over")
    name = line.joint.name
    if line.state == Locked.READ_AGAIN:
        why = "Tightening moves what was just set: no axis is locked before it was read with its screws tight."
        return Now(f"Read the {line.joint.axis} axis again.", why, CAUTION_LOCK, "level", "Read")
    if line.state == Locked.OLD:
        return Now(f"Lock again: {name}.", "Something was done since that may have moved it.", CAUTION_LOCK, "", "")
    if line.joint.dials:
        return Now(f"Lock: {name}.", "It is opened again to dial: say that it stays movable.", CAUTION_LOCK, "", "")
    return Now(
        f"Lock: {name}.", "Tighten this one alone, look whether anything moved, then the next.", CAUTION_LOCK, "", ""
    )


def high(units: Units, up_m: float) -> str:
    """How high or low, with its unit."""
    if abs(units.from_si("offset", up_m)) < 0.05:
        return "on the aim"
    return f"{on_target(units, up_m)} {'high' if up_m > 0.0 else 'low'}"


def sideways(units: Units, right_m: float) -> str:
    """How far left or right, with its unit."""
    if abs(units.from_si("offset", right_m)) < 0.05:
        return "in line"
    return f"{on_target(units, right_m)} {'right' if right_m > 0.0 else 'left'}"


def in_times(chance: float) -> str:
    """A probability, as people say one."""
    if chance >= 0.995:
        return "nearly always"
    if chance < 0.005:
        return "hardly ever"
    if chance < 0.1 or chance > 0.9:
        return f"{100.0 * chance:.0f} times in 100"
    tenths = round(10.0 * chance)
    return "once in 10" if tenths == 1 else f"{tenths} times in 10"


def head(verdict: TapeVerdict, chain: Chain, units: Units) -> tuple[str, str]:
    """The verdict in few words, and its class: ok, or not yet."""
    if verdict.doubt == Doubt.MOVED:
        return "Something moved.", "wrong"
    if verdict.doubt == Doubt.DAYS:
        return "The lines differ.", "not-yet"
    if verdict.kind == VerdictKind.TRUE:
        first, end = units.as_typed("distance", chain.wanted_m[0]), whole_distance(units, chain.wanted_m[-1])
        return f"True, {first} to {end}", "not-yet" if chain.too_far_m else "ok"
    if verdict.kind == VerdictKind.SHIFTED:
        return "Shifted", "wrong"
    if verdict.kind == VerdictKind.STRETCHED:
        return "Stretched", "wrong"
    if verdict.doubt == Doubt.ONE_DAY:
        return ("Wrong on this one day", "wrong") if verdict.off else ("True on this one day", "not-yet")
    if verdict.off:
        return f"Wrong at {whole_distance(units, verdict.worst_m)}, cause open", "wrong"
    return ("Not sure yet" if chain.lines else "Nothing shot yet"), "not-yet"


def worst(verdict: TapeVerdict, units: Units, target_m: float) -> str:
    """What comes in where it is least sure."""
    row = min(verdict.rows, key=lambda each: each.chance_within)
    half = on_target(units, 0.5 * target_m)
    return (
        f"Least sure at {whole_distance(units, row.distance_m)}: {high(units, row.up_m)} "
        f"± {on_target(units, COVERAGE * row.sd_m)}; within {half} of the aim {in_times(row.chance_within)}."
    )


def row_words(row: WantedRow, units: Units) -> tuple[str, str, str, str]:
    """A row of the table: distance, what comes in, its uncertainty, the chance."""
    way = high(units, row.up_m)
    uncertainty = f"± {on_target(units, COVERAGE * row.sd_m)}"
    return units.as_typed("distance", row.distance_m), way, uncertainty, in_times(row.chance_within)


def shift_words(shift: Shift, units: Units) -> tuple[str, str]:
    """What to do about a shift, and how sure it is."""
    far = shift.toward_far_mm > 0.0
    way = "towards the far end" if far else "towards the near end"
    label = units.label("distance")
    stands = units.as_typed("distance", shift.from_m)
    reads = fixed(units.from_si("distance", shift.to_m), 1)
    say = f"Move the pointer {abs(shift.toward_far_mm):.1f} mm {way} of the tape."
    how = (
        f"Sight still, with the pointer on {stands}: it is to read {reads}\u00a0{label} then. "
        f"The tape reads {'short' if far else 'long'}. ± {COVERAGE * shift.sd_mm:.1f} mm. "
        f"Then it is within half the target {in_times(shift.chance_then)} everywhere."
    )
    return say, how


def pins_words(shift: Shift | None, stretch: Stretch | None) -> tuple[str, str] | None:
    """The same for pins that stand fixed: the housing is moved, or the gaps are set anew."""
    if shift is not None:
        way = "up" if shift.toward_far_mm > 0.0 else "down"
        much = f"{abs(shift.toward_far_mm):.1f} mm"
        return (
            f"Move the housing {much} {way}.",
            f"All pins are off alike, ± {COVERAGE * shift.sd_mm:.1f} mm at the sight.",
        )
    if stretch is not None:
        wider = "wider" if stretch.longer > 0.0 else "closer"
        return (
            "Set the pins anew.",
            f"Their gaps are to be {100.0 * abs(stretch.longer):.1f} % ± {100.0 * COVERAGE * stretch.sd:.1f} {wider}.",
        )
    return None


def mended_words(shift: Shift | None, way: str) -> str:
    """What was done about a shift, for the record."""
    if shift is None:
        return f"{MENDED} the {way} was moved"
    much, far = f"{abs(shift.toward_far_mm):.1f} mm", shift.toward_far_mm > 0.0
    end = "far" if far == (way == "indicator") else "near"
    return f"{MENDED} the {way} moved {much} towards the {end} end of the tape"


def stretch_words(stretch: Stretch) -> tuple[str, str]:
    """What to do about a stretch."""
    longer = "longer" if stretch.longer > 0.0 else "shorter"
    percent = f"{100.0 * abs(stretch.longer):.1f} % ± {100.0 * COVERAGE * stretch.sd:.1f}"
    way = "Print the tape anew, with these lines among its marks."
    if stretch.strip is not None:
        way = f"Lay on strip {stretch.strip} of the booklet, or print the tape anew with these lines among its marks."
    how = (
        f"The strip that belongs on is {percent} {longer}: from home to the last stake {stretch.then_mm:.1f} mm, this one "
        f"has {stretch.now_mm:.1f}. No pointer puts that right."
    )
    return way, how


def next_words(verdict: TapeVerdict, units: Units, worst_m: float) -> str:
    """Where the next group tells most, and what it may then say."""
    following = verdict.next
    if following is None:
        return ""
    at = whole_distance(units, following.distance_m)
    if verdict.doubt == Doubt.CAUSE:
        return f"4 arrows at {at} on another day tell most of whether the pointer is off or the strip."
    then = on_target(units, COVERAGE * following.sd_then_m)
    may = f"true {in_times(following.may_be_true)}, wrong {in_times(following.may_be_off)}"
    return (
        f"After 4 arrows at {at} on another day it is known to ± {then} at {whole_distance(units, worst_m)}, and may be "
        f"called {may}."
    )


def cold_words(cold: ColdShots, units: Units, at_m: float) -> str:
    """What the day's first arrows do."""
    away, sd = (1e-3 * each * at_m for each in (cold.high_mrad, COVERAGE * cold.sd_mrad))
    said = "That is real: hold for it on the first arrow." if cold.real else "That can be chance."
    lines = f"{cold.lines} cold line{'s' if cold.lines > 1 else ''}"
    at = whole_distance(units, at_m)
    return f"{lines}: {high(units, away)} ± {on_target(units, sd)} at {at}, beside the others. {said}"


def line_words(line: ProofLine, units: Units) -> str:
    """A line in words: at 61, dialled 61, 4 arrows 3 cm low."""
    parts = [f"at {whole_distance(units, line.ranged_m)}"]
    if line.dialled_m is not None and abs(line.dialled_m - line.ranged_m) > 0.05:
        parts.append(f"dialled {units.as_typed('distance', line.dialled_m)}")
    off = [high(units, line.up_m)] if line.up_m is not None else []
    off += [sideways(units, line.right_m)] if line.right_m is not None else []
    parts.append(f"{line.arrows} arrow{'s' if line.arrows != 1 else ''} {' and '.join(off)}")
    return ", ".join(parts)
