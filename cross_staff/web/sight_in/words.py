"""The words of the range: what to do now, why, and what the arrows say."""

from __future__ import annotations

from dataclasses import dataclass, field

from cross_staff.core.rig.procedure import CLOSE_M, CONFIRM, PLACE, SHOOT, ProcedureStep
from cross_staff.core.sight_in.acts import ALL_DONE, ASK, CARD, MOVE, REST, Act
from cross_staff.core.sight_in.aims import FAR_OFFSET, THIS_DOT, Aim, AimState
from cross_staff.core.sight_in.controls import CLICK, STEP, TURN, MovementAdvice
from cross_staff.core.sight_in.verdict import SIX_MORE
from cross_staff.core.stations import NextStep
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.reading_words import reading
from cross_staff.web.shared.words import CAUTION_RANGE, on_target, whole_distance
from cross_staff.web.sight_in.next_words import next_step

CAUTION_CLOSE = (
    "Spare backstop above, below and behind: a sight that was never shot can miss wide. Nobody beyond the butt."
)
CAUTION_FAR = "Farther back an arrow that misses goes on farther: look again at what is behind and beyond."
CAUTION_SCREWS = "Let down and nock no arrow before a screw is touched. The right key; never an end-stop screw."
NO_ADJUST_WIND = "An estimate by the lag rule, to judge a sideways miss by; never a windage setting."


@dataclass(frozen=True)
class MoveWords:
    """One movement in words: how much, which way, of which control; and what goes with it."""

    much: str
    way: str
    control: str
    notes: tuple[str, ...] = ()
    name: str = ""
    unchecked: bool = False


@dataclass(frozen=True)
class NowWords:
    """The instruction: what step it belongs to, the sentence, how, why, the caution, the movements."""

    step: str
    say: str
    how: str = ""
    why: str = ""
    caution: str = CAUTION_RANGE
    moves: tuple[MoveWords, ...] = field(default=())


def pin_name(rig: Rig, pin: int, units: Units) -> str:
    """A pin as it is called: by its place, with what it is for."""
    distances = rig.range.estimate.distances if rig.range.estimate else ()
    return pin_words.the(pin_words.with_distance(rig.card, distances, pin, units))


def filled(text: str, rig: Rig, aim: Aim | None, act: Act, units: Units) -> str:
    """A sentence of a procedure with its numbers in the archer's units."""
    estimate, goals = rig.range.estimate, rig.card.goals
    stack = rig.stack
    centre = stack.top_above_middle_mm if stack else None
    reserve, pins = rig.card.mount.reserve_mm, rig.evaluation.pins
    return text.format(
        pointer=pin_words.pointer_name(rig.card, pins, pins.dialled, units),
        pointers=pin_words.pointers_words(rig.card, pins, rig.pointers, units) if "{pointers}" in text else "",
        pin=pin_name(rig, aim.pin, units) if aim else "the pin",
        at=whole_distance(units, aim.ranged_m) if aim else "the distance",
        home=whole_distance(units, estimate.distances[0]) if estimate else "home",
        far=whole_distance(units, goals.farthest_m) if goals.farthest_m else "where you want to shoot",
        place="its place" if act.place_mm is None else f"{act.place_mm:.1f} mm",
        centre="half the stack" if centre is None else f"{centre:.1f} mm",
        reserve="a few millimetres" if reserve is None else f"{reserve:.1f} mm",
    )


def now(rig: Rig, units: Units, proof: NextStep | None = None) -> NowWords:
    """The one instruction, with its reason; `proof`, the re-proof that comes before all else."""
    state, act = rig.range, rig.range.act
    if proof is not None:
        return _proof(rig, proof, units)
    if act.kind == CARD:
        return NowWords("Card", "Complete the card first.", "The card still lacks something: the arrows can be noted already, and are judged once it is there.")  # fmt: skip
    if act.kind == ALL_DONE or (act.step is None and act.kind not in (ASK, REST)):
        return NowWords("Sighted in", "Sighted in. On to the tape.", "Every aim is surely within a quarter of your target, or was said to be good.")  # fmt: skip
    if act.kind == REST:
        return NowWords("Rest", "Change nothing today.", "This visit does not count, as you said: its arrows are kept and move nothing.", "Begin another session, below, when the wind is down or the day is another.")  # fmt: skip
    if act.kind == ASK:
        return _ask(act)
    assert act.step is not None
    step, name = act.step, filled(act.step.say, rig, act.aim, act, units).rstrip(".")
    if act.kind == SHOOT:
        return _shoot(rig, act, name, units)
    if act.kind == MOVE:
        return _move(rig, act, name, units)
    how = filled(step.do, rig, act.aim, act, units)
    if act.kind == PLACE and act.place_mm is not None and act.place_sd_mm is not None:
        how += f" Predicted to ± {COVERAGE * act.place_sd_mm:.1f} mm."
    caution = CAUTION_CLOSE if step.key == "face" else CAUTION_SCREWS
    say = filled(step.say, rig, act.aim, act, units) if act.kind == CONFIRM else f"{_upper(how.split('.')[0])}."
    if act.kind == PLACE and act.place_mm is not None and act.aim is not None:
        say = f"Set {pin_name(rig, act.aim.pin, units)} {act.place_mm:.1f} mm below the top one."
    return NowWords(name, say, how, filled(step.look_for, rig, act.aim, act, units), caution if state else caution)


def _ask(act: Act) -> NowWords:
    """Nothing is ordered from a state that nobody confirmed."""
    if act.odd is not None:
        return NowWords("a question first", "Was that arrow called bad?", "", "One arrow far from the others moves no sight: nothing is ordered until that is said. You can shoot on meanwhile.")  # fmt: skip
    if act.unread is not None:
        return NowWords("a question first", "What did the dial read at the last end?", "Look now, if it was not turned since.", "Without it these arrows say nothing of the height. At home is an answer too.")  # fmt: skip
    if act.because == "marks_disagree":
        return NowWords("a question first", "The marks contradict one another.", "", "Open the tape: it names the one to look at first. A wrong reading, or a distance, can be mended here in the log.")  # fmt: skip
    if act.where is not None:
        return NowWords("where it stands", f"Where does the {act.where.name} stand now?", "Look, and tap its place: then it is said where to.", "It goes by steps, and nobody said yet on which of them it is.", CAUTION_SCREWS)  # fmt: skip
    return NowWords("a question first", "What was different at the last end?", "", "Nothing is ordered from a state that nobody confirmed. You can shoot on meanwhile.")  # fmt: skip


def _proof(rig: Rig, step: NextStep, units: Units) -> NowWords:
    """The fewest arrows that prove what was set aside, and what they are to be shot with."""
    words, asked = next_step(step, units), rig.state.reproof
    end = asked.next_end if asked else None
    how = ""
    if end is not None:
        many = rig.range.estimate is not None and len(rig.range.estimate.distances) > 1
        how = f"With {pin_name(rig, end.pin, units)}. " if many else ""
        if end.mark_mm is not None and rig.card.sight_kind.has_dial:
            how += f"Set to {reading(rig, end.mark_mm)} first: where the old marks have it."
    return NowWords("prove it", words.say, how, words.why, words.caution)


def _upper(text: str) -> str:
    return text[:1].upper() + text[1:]


def _shoot(rig: Rig, act: Act, name: str, units: Units) -> NowWords:
    assert act.aim is not None
    arrows = "1 arrow" if act.arrows == 1 else f"{act.arrows} arrows"
    say = f"Shoot {arrows} at {whole_distance(units, act.aim.ranged_m)} with {pin_name(rig, act.aim.pin, units)}."
    how = "" if act.dial_mm is None else f"Set to {reading(rig, act.dial_mm)} first."
    if act.dial_mm is None and act.aim.dialled:
        how = "Read the dial before the first arrow, and write it under “Dial reads”: the marks begin with it."
    if act.at_home:
        how = "The sight at its home position; read the dial there, if it has numbers."
    caution = CAUTION_CLOSE if act.aim.ranged_m <= CLOSE_M + 0.1 else CAUTION_FAR if act.because == "next_mark" else CAUTION_RANGE  # fmt: skip
    return NowWords(name, say, how, _why_shoot(rig, act, units), caution)


def _why_shoot(rig: Rig, act: Act, units: Units) -> str:
    at = act.at
    if act.because == "first":
        where = ""
        if act.expect_m is not None and rig.range.estimate is not None:
            side = "low" if act.expect_m < 0 else "high"
            home = whole_distance(units, rig.range.estimate.distances[0])
            where = f" A sight that is right for {home} hits {on_target(units, act.expect_m)} {side} here."
        return f"Well inside 10 m even a wild sight hits the butt.{where}"
    if at is None:
        return ""
    if act.because == "too_few":
        return f"{at.standing.arrows} so far: six within your circle, and you may go on."
    if act.because == "not_within_circle":
        wide = "" if at.radius_m is None else f" {on_target(units, at.radius_m)} mean radius, your circle is {on_target(units, at.circle_m)}."  # fmt: skip
        return f"Stay here: the groups say so.{wide} This is also how far a tape is honest."
    if act.because == "next_mark":
        return "Here an end narrows the tape most, as far as your groups allow. It need not be centred."
    if act.because == "spread_unknown":
        return "Nothing is known of your own spread yet: three arrows say the first of it."
    if act.because == "after_move":
        return "It was moved since: an end after the movement says whether it is where it should be."
    if act.because == "trial":
        return "A few arrows say what the trial did, before anything more is turned."
    if act.because == "another_day":
        return (
            f"Another day tells more than arrows today: a day by itself may set all of them off. Now {sure_words(at)}."
        )
    if act.because == "rough_unsure":
        return "Not sure enough yet that the next distance hits the butt."
    return f"{act.more} more would make it sure to {allowed(rig, at, units)}; now {sure_words(at)}. {six_more(rig, at, units)}"


def sure_words(at: AimState) -> str:
    """How surely an aim is where it should be."""
    return f"it is that {min(100.0 * at.verdict.surely, 99.0):.0f} times in 100"


def allowed(rig: Rig, at: AimState, units: Units) -> str:
    """How far an aim may be off on the target: a quarter of it, or what stands in where the card has none."""
    size = on_target(units, at.standing.tolerance * target_scale(rig, at.aim))
    return (
        f"{size}, a quarter of your target"
        if rig.card.goals.target_size_m
        else f"{size}, half of your spread (the card has no target)"
    )


def six_more(rig: Rig, at: AimState, units: Units) -> str:
    """What six more arrows would buy on the target."""
    scale = 1.96 * target_scale(rig, at.aim)
    now, then = (max(at.standing.sure_sd(more)) * scale for more in (0, SIX_MORE))
    if not at.standing.arrows or now > 2.0:
        return ""
    return f"Six more arrows: from ± {on_target(units, now)} to ± {on_target(units, then)}."


def _move(rig: Rig, act: Act, name: str, units: Units) -> NowWords:
    moves = tuple(move_words(rig, advice, units, act.aim) for advice in act.moves)
    first = moves[0]
    say = f"{_upper(first.control)}: {first.much} {first.way}."
    why = "" if act.at is None else _why_move(rig, act.at, act.because, units)
    return NowWords(name, say, "", why, CAUTION_SCREWS, moves)


def _why_move(rig: Rig, at: AimState, because: str, units: Units) -> str:
    sides = [words for words, moved in zip(offset_words(rig, at, units), at.verdict.move) if moved and words]
    said = " and ".join(sides)
    if because == "rehome":
        return "So far the tape has it between the old home and the new one; the wheel stays at home."
    if because == "above_stop":
        return "Home lies above the stop, where the wheel cannot go: the whole sight goes up by so much."
    if because == "trim":
        return f"All arrows together hit {said}: the last small step."
    return f"All arrows together hit {said}, more than chance. The aim goes towards them."


def offset_words(rig: Rig, at: AimState, units: Units) -> tuple[str, str]:
    """Where all arrows together come in at an aim, sideways and in height; empty where it is dead on."""
    right, up = on_target_m(rig, at)
    sideways = "" if abs(right) < 0.0005 else f"{on_target(units, right)} {'right' if right > 0 else 'left'}"
    height = "" if abs(up) < 0.0005 else f"{on_target(units, up)} {'high' if up > 0 else 'low'}"
    return sideways, height


def on_target_m(rig: Rig, at: AimState) -> tuple[float, float]:
    """An aim's offset on the target [m]."""
    scale = target_scale(rig, at.aim)
    return at.standing.offset[0] * scale, at.standing.offset[1] * scale


def target_scale(rig: Rig, aim: Aim) -> float:
    """Metres on the target for a millimetre at the sight plane."""
    estimate = rig.range.estimate
    lever = estimate.lever if estimate else rig.card.eye_to_sight_m or 0.8
    return 1e-3 * (lever + rig.card.distance_from_sight(aim.ranged_m)) / lever


def move_words(rig: Rig, advice: MovementAdvice, units: Units, aim: Aim | None = None) -> MoveWords:
    """A movement: clicks, turns or millimetres, which way, what to unlock, what travel is left."""
    drive = advice.drive
    key = f", {drive.key_size} key" if drive.key_size else ""
    lock = drive.unlock.partition(":")[0]
    if drive.unlock:
        notes = [f"Unlock {drive.unlock}{key}; move it; lock {lock} again."]
    elif drive.name in (FAR_OFFSET, THIS_DOT):
        notes = ["It is entered in the display, in whatever its maker asks for; then shoot it once more."]
    else:
        notes = [f"No lock is named on the card for {drive.name}: look for one, move it, and lock it again."]
    if drive.assumed:
        notes.append("Assumed of a sight of this kind: if yours has none, note what you moved instead.")
    control = next((c for c in rig.card.sight.controls if c.name == drive.name), None)
    turns = control.turns_and_clicks(advice.amount) if control and drive.unit == CLICK else None
    if turns is not None and turns[0]:
        notes.append(f"That is {turns[0]} turn{'s' if turns[0] > 1 else ''} and {turns[1]:.0f} clicks.")
    backwards = advice.amount * advice.moved_mm < 0.0
    if backwards:
        notes.append("On this bow it goes against its card: turn it the other way.")
    if drive.clockwise and drive.unit in (CLICK, TURN):
        same = (drive.clockwise == advice.way) != backwards
        notes.append(f"{'Clockwise' if same else 'Anticlockwise'}.")
    if advice.trial:
        notes.append("A small trial: what it does, or which way it goes, is not known yet; the next end tells.")
    if advice.left_mm is not None and not advice.short_mm:
        notes.append(f"{advice.left_mm:.1f} mm of travel is left that way.")
    if advice.short_mm:
        offers = "; or ".join(REMEDIES[code] for code in advice.instead)
        notes.append(f"Its travel ends there, {abs(advice.short_mm):.1f} mm short: {offers}.")
    named = drive.name if advice.pin is None else f"{drive.name}, {pin_name(rig, advice.pin, units)}"
    much = _much(advice)
    if drive.name in (FAR_OFFSET, THIS_DOT) and aim is not None:
        off = on_target(units, advice.moved_mm * target_scale(rig, aim))
        much = f"{off} at {whole_distance(units, aim.ranged_m)}, the dot {much}"
    return MoveWords(much, advice.way, named, tuple(notes), drive.name, not drive.sure_way)


def _much(advice: MovementAdvice) -> str:
    amount, unit = abs(advice.amount), advice.drive.unit
    if unit == CLICK:
        return f"{amount:.0f} click{'' if round(amount) == 1 else 's'}"
    if unit == TURN:
        return f"{trimmed(amount, 2)} turn{'' if amount <= 1.0 else 's'}"
    if unit == STEP:
        return f"{amount:.1f} mm, to the {advice.place_mm:g} mm place,"
    return f"{fixed(amount, 2 if amount < 1.0 else 1)} mm"


REMEDIES = {
    "gang_windage": "move the whole housing instead",
    "coarse": "take the next place of the bracket or spacer",
    "windage": "make the rest with the micro adjustment",
    "reversed_bracket": "turn the bracket round, if this sight allows it",
    "gang_elevation": "move the whole housing instead",
    "other_hole": "mount it in the other hole",
    "elevation": "make the rest with the wheel",
    "other_pin": "take another pin for this distance",
    "shop": "ask a qualified shop; never take an end stop out",
}


def step_name(rig: Rig, step: ProcedureStep, aim: Aim | None, units: Units) -> str:
    """A step in few words."""
    return filled(step.say, rig, aim, Act(CONFIRM, step=step), units).rstrip(".")


def wind(drift_m: float | None, units: Units) -> str:
    """What the crosswind that was written down may do at the aim in hand; empty without one."""
    if drift_m is None:
        return ""
    side = "right" if drift_m > 0 else "left"
    return f"This wind may move them {on_target(units, drift_m)} to the {side} by itself. {NO_ADJUST_WIND}"
