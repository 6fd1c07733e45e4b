"""The words of the range: what to do now, why, and what the arrows say."""

from __future__ import annotations

from dataclasses import dataclass, field

from cross_staff.core.estimation.groups import ADJUST, LEAVE, NOT_YET_KNOWN, SHOOT_MORE, GroupStatistics
from cross_staff.core.rig.procedure import CLOSE_M, CONFIRM, PLACE, SETTLE, SHOOT, ProcedureStep
from cross_staff.core.sight_in.aims import Aim, AimState
from cross_staff.core.sight_in.anomalies import OtherPin, Surprise, Trend
from cross_staff.core.sight_in.conditions import TapeDay
from cross_staff.core.sight_in.controls import CLICK, STEP, TURN, MovementAdvice
from cross_staff.core.sight_in.station import ALL_DONE, CARD, MOVE, Act, SightIn
from cross_staff.core.stations import NextStep
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared.words import CAUTION_RANGE, Now, on_target, whole_distance

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
    card, distances = rig.card, rig.range.estimate.distances if rig.range.estimate else ()
    count = max(len(distances), len(card.sight.pins))
    worth = f" ({whole_distance(units, distances[pin])})" if pin < len(distances) and count > 1 else ""
    kind = card.sight_kind
    if kind.computes_dots:
        return f"the dot for {whole_distance(units, distances[pin])}" if pin < len(distances) else f"dot {pin + 1}"
    if count <= 1:
        return f"the {kind.aim_word}"
    return f"the top pin{worth}" if pin == 0 else f"pin {pin + 1}{worth}"


def filled(text: str, rig: Rig, aim: Aim | None, act: Act, units: Units) -> str:
    """A sentence of a procedure with its numbers in the archer's units."""
    estimate, goals = rig.range.estimate, rig.card.goals
    stack = rig.stack
    centre = stack.top_above_middle_mm if stack else None
    reserve = rig.card.mount.reserve_mm
    return text.format(
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
    if act.kind == ALL_DONE or act.step is None:
        return NowWords("Sighted in", "Sighted in. On to the tape.", "Every aim is surely within a third of your spread, or was said to be good.")  # fmt: skip
    step, name = act.step, filled(act.step.say, rig, act.aim, act, units).rstrip(".")
    if act.kind == SHOOT:
        return _shoot(rig, act, name, units)
    if act.kind == MOVE:
        return _move(rig, act, name, units)
    how = filled(step.do, rig, act.aim, act, units)
    if act.kind == PLACE and act.place_mm is not None and act.place_sd_mm is not None:
        how += f" Predicted to ± {2.0 * act.place_sd_mm:.1f} mm."
    caution = CAUTION_CLOSE if step.key == "face" else CAUTION_SCREWS
    say = filled(step.say, rig, act.aim, act, units) if act.kind == CONFIRM else f"{_upper(how.split('.')[0])}."
    if act.kind == PLACE and act.place_mm is not None and act.aim is not None:
        say = f"Set {pin_name(rig, act.aim.pin, units)} {act.place_mm:.1f} mm below the top one."
    return NowWords(name, say, how, filled(step.look_for, rig, act.aim, act, units), caution if state else caution)


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
    caution = CAUTION_CLOSE if act.aim.ranged_m <= CLOSE_M + 0.1 else CAUTION_FAR if act.because == "next_mark" else CAUTION_RANGE  # fmt: skip
    return NowWords(name, say, how, _why_shoot(rig, act, units), caution)


def reading(rig: Rig, dial_mm: float) -> str:
    """A reading of the scale, with its clicks from nought on a drum."""
    drum = next((c for c in rig.card.sight.controls if c.moves == "elevation" and c.per_click_mm), None)
    if rig.card.sight_kind.has_drum and drum and drum.per_click_mm:
        clicks = trimmed(dial_mm / drum.per_click_mm, 1)
        return f"{fixed(dial_mm, 2)} mm, {clicks} clicks from nought"
    return f"mark {fixed(dial_mm, 1)}"


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
    if act.because == "rough_unsure":
        return "Not sure enough yet that the next distance hits the butt."
    return f"{act.more} more would make it sure to a third of your spread; now it is {100.0 * at.verdict.surely:.0f} %."


def _move(rig: Rig, act: Act, name: str, units: Units) -> NowWords:
    moves = tuple(move_words(rig, advice, units) for advice in act.moves)
    first = moves[0]
    say = f"{_upper(first.control)}: {first.much} {first.way}."
    why = "" if act.at is None else _why_move(rig, act.at, act.because, units)
    return NowWords(name, say, "", why, CAUTION_SCREWS, moves)


def _why_move(rig: Rig, at: AimState, because: str, units: Units) -> str:
    sides = [words for words, moved in zip(offset_words(rig, at, units), at.verdict.move) if moved and words]
    said = " and ".join(sides)
    if because == "trim":
        return f"All arrows together come in {said}: the last small step."
    return f"All arrows together come in {said}, more than chance. The aim goes towards them."


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


def move_words(rig: Rig, advice: MovementAdvice, units: Units) -> MoveWords:
    """A movement: clicks, turns or millimetres, which way, what to unlock, what travel is left."""
    drive = advice.drive
    notes = []
    if drive.unlock:
        key = f", {drive.key_size} key" if drive.key_size else ""
        notes.append(f"Unlock first: {drive.unlock}{key}. Lock it again after.")
    backwards = advice.amount * advice.moved_mm < 0.0
    if backwards:
        notes.append("On this bow it goes against its card: turn it the other way.")
    if drive.clockwise and drive.unit in (CLICK, TURN):
        same = (drive.clockwise == advice.way) != backwards
        notes.append(f"{'Clockwise' if same else 'Anticlockwise'}.")
    if advice.trial:
        notes.append("What a unit of it does is not known yet: the next end tells.")
    if advice.left_mm is not None and not advice.short_mm:
        notes.append(f"{advice.left_mm:.1f} mm of travel is left that way.")
    if advice.short_mm:
        offers = "; or ".join(REMEDIES[code] for code in advice.instead)
        notes.append(f"Its travel ends there, {abs(advice.short_mm):.1f} mm short: {offers}.")
    control = drive.name if advice.pin is None else f"{drive.name}, {pin_name(rig, advice.pin, units)}"
    return MoveWords(_much(advice), advice.way, control, tuple(notes), drive.name, not drive.sure_way)


def _much(advice: MovementAdvice) -> str:
    amount, unit = abs(advice.amount), advice.drive.unit
    if unit == CLICK:
        return f"{amount:.0f} click{'' if round(amount) == 1 else 's'}"
    if unit == TURN:
        return f"{trimmed(amount, 2)} turn{'' if amount <= 1.0 else 's'}"
    if unit == STEP:
        return f"{amount:.1f} mm, to the next place,"
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

VERDICTS = {ADJUST: "Adjust now", SHOOT_MORE: "Shoot more", LEAVE: "Leave it", NOT_YET_KNOWN: "Not yet known"}


def judged(rig: Rig, at: AimState, units: Units) -> dict[str, object]:
    """What all arrows at an aim come to: the verdict and a sentence a direction."""
    verdict = at.verdict
    head = VERDICTS[verdict.kind]
    if verdict.kind == SHOOT_MORE and verdict.more:
        head = f"Shoot {verdict.more} more"
    scale = target_scale(rig, at.aim)
    lines = []
    for side, words, beyond, sd in zip(
        ("Sideways", "Height"), offset_words(rig, at, units), verdict.beyond, at.standing.sd
    ):
        if sd > 20.0:
            lines.append((side, "not known yet", ""))
            continue
        chance = "beyond chance" if beyond else "may be chance"
        lines.append((side, f"{words or 'dead on'}", f"± {on_target(units, 1.96 * sd * scale)}, {chance}"))
    return {
        "head": head,
        "kind": verdict.kind,
        "lines": lines,
        "arrows": at.standing.arrows,
        "radius": "" if at.radius_m is None else on_target(units, at.radius_m),
        "circle": on_target(units, at.circle_m),
        "surely": f"{100.0 * verdict.surely:.0f} %",
        "spread": on_target(units, at.standing.spread * scale),
    }


def alone(group: GroupStatistics, compared: tuple[float | None, float | None], units: Units) -> str:
    """One end by itself: its middle, whether that is chance, and its spread against the archer's own."""
    if group.mean_m is None:
        return ""
    right, up = group.mean_m
    sideways = f"{on_target(units, right)} {'right' if right > 0 else 'left'}"
    height = f"{on_target(units, up)} {'high' if up > 0 else 'low'}"
    error = "" if group.se_m is None else f" ± {on_target(units, max(group.se_m))}"
    sides = [side for side, beyond in zip(("sideways", "height"), group.beyond_chance) if beyond]
    chance = f"{' and '.join(sides)} beyond chance" if sides else "may be chance"
    p = "" if group.p_value is None else f" (p {group.p_value:.2g})"
    ratio, luck = compared
    spread = "" if ratio is None else f" Its spread is {ratio:.1f} times that of your earlier ends{', more than chance' if luck is not None and luck < 0.05 else ''}."  # fmt: skip
    return f"{sideways}, {height}{error}: {chance}{p}.{spread}"


def step_name(rig: Rig, step: ProcedureStep, aim: Aim | None, units: Units) -> str:
    """A step in few words."""
    return filled(step.say, rig, aim, Act(CONFIRM, step=step), units).rstrip(".")


def wind(drift_m: float | None, units: Units) -> str:
    """What the crosswind that was written down may do at the aim in hand; empty without one."""
    if drift_m is None:
        return ""
    side = "right" if drift_m > 0 else "left"
    return f"This wind may move them {on_target(units, drift_m)} to the {side} by itself. {NO_ADJUST_WIND}"


DAYS = {
    "go": "A tape day",
    "half": "Count it half",
    "no": "Change nothing today",
    "not_yet": "Not yet known",
}


def day(day: TapeDay) -> tuple[str, str]:
    """Is today a tape day, and why."""
    ratio = "" if day.ratio is None else f"{day.ratio:.1f} times your own earlier ends"
    why = {
        "no_session": "Shoot the first end at home: it tells.",
        "too_few": "Five arrows at home, against your own earlier ones and the wind, tell.",
        "no_history": "No earlier ends to compare with; nothing speaks against it.",
        "much_wider": f"The ends at home are {ratio}, far more than chance.",
        "wider": f"The ends at home are {ratio}, more than chance.",
        "windy": "The crosswind moves them by more than half of your spread.",
        "very_windy": "The crosswind moves them by more than your groups can tell.",
        "as_usual": f"The ends at home are {ratio}: as usual.",
    }[day.because]
    return DAYS[day.verdict], why


def other_pin(rig: Rig, doubt: OtherPin, units: Units) -> str:
    """The question about an end that looks like another pin's."""
    noted, likely = (pin_name(rig, pin, units) for pin in (doubt.end.pin, doubt.pin))
    return f"The last end noted for {noted} came in as {likely} would: {abs(doubt.off_mm):.1f} mm off, a gap between pins. Was it {likely}?"  # fmt: skip


def suspect(number: int, right_m: float, up_m: float, units: Units) -> str:
    """The question about a shot that lies far from the others."""
    side, height = "right" if right_m > 0 else "left", "high" if up_m > 0 else "low"
    return f"Arrow {number} of the last end is far from the others: {on_target(units, right_m)} {side}, {on_target(units, up_m)} {height}. It counts until you say so: was it called bad?"  # fmt: skip


def surprised(doubt: Surprise) -> str:
    """What an end after a movement says of it."""
    if doubt.other_way:
        return f"{doubt.drive} moved things the other way than its card has it. From now on it is reckoned so; look once by eye, and mark it on the card."  # fmt: skip
    return f"After {doubt.drive} was moved the arrows are not where that would put them. Was it locked, was it this control, did anything else move?"  # fmt: skip


def reversed_words(names: tuple[str, ...]) -> str:
    """Controls that go against their card on this bow."""
    return f"{', '.join(names)}: goes against its card on this bow, by what the arrows did." if names else ""


def trend(trend: Trend, units: Units) -> str:
    """A sideways trend with distance."""
    side = "right" if trend.mrad > 0 else "left"
    near, far = whole_distance(units, trend.near_m), whole_distance(units, trend.far_m)
    return f"From {near} to {far} the arrows drift to the {side}, by {abs(trend.mrad):.1f} ± {2.0 * trend.sd_mrad:.1f} mrad: that is no windage setting. Leave it, and look at the level and the bow's tune."  # fmt: skip


def usable(state: SightIn, units: Units) -> str:
    """What the rig is good for already."""
    far = state.usable_to_m()
    if far is None or state.current is None:
        return ""
    return f"Usable with its pins as they are to {whole_distance(units, far)}; the rest may follow later."


def is_settling(act: Act) -> bool:
    """Whether the work is in its last step, which the archer may end."""
    return act.step is not None and act.step.kind == SETTLE


SIGHT_IN_NOW = {
    "shoot": ("Shoot the next end.", "Every arrow is counted together with those before it."),
    "move": ("Move the sight as it says.", "The offset is more than chance: control, way and clicks are worked out."),
    "place": ("Set the next pin to its place.", "It is predicted, so that it starts nearly right."),
    "proved": ("It is proved: take it up again.", "The arrows came in where the old marks have them."),
    "confirm": ("Go on sighting in.", "Close first, then home, then out: in this order no arrow is wasted."),
}


def next_step(step: NextStep, units: Units) -> Now:
    """What to do next at the range."""
    if step.code == "reprove":
        return _reprove(step, units)
    say, why = SIGHT_IN_NOW[step.code]
    if step.code == "shoot":
        count = int(step.numbers["arrows"])
        say = f"Shoot {count} arrow{'' if count == 1 else 's'} at {whole_distance(units, step.numbers['ranged_m'])}."
    return Now(say, why, CAUTION_RANGE, "sight_in", "Go to the range")


def _reprove(step: NextStep, units: Units) -> Now:
    """The fewest arrows that prove what was set aside."""
    at, count = whole_distance(units, step.numbers["ranged_m"]), int(step.numbers["arrows"])
    band = units.show("offset", step.numbers["band_m"], 1)
    say = f"Prove it: {count} arrow{'' if count == 1 else 's'} at {at}."
    why = f"If their mean comes in within {band} of where it was, all that was shot before holds again."
    return Now(say, why, CAUTION_RANGE, "sight_in", "Go to the range")


STANDING = {
    "waits_for_card": "waits for the card",
    "by_marks": "by marks alone",
    "sighted_in": "done",
    "no_arrows": "no arrow yet",
    "steps_left": "{} steps left",
    "ends_old": "stale: {} ends",
    "marks_aside": "stale: {} marks",
    "usable_to": "pins usable to {far}",
}
