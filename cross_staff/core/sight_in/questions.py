"""Does the newest end belong to the sight as it is believed to stand? If not: a question, and what may have been."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from cross_staff.core.sight_in.controls import SIDEWAYS, SMALLEST, STEP, RangeControl
from cross_staff.core.sight_in.estimate import SQUARE, AimEstimate, same_distance
from cross_staff.core.sight_in.log import End
from cross_staff.core.tape.solver import shift_of
from cross_staff.core.tape.station import Evaluation

NEWEST = 3  # how many ends together are held against what was believed before them
CHANCE = 0.004  # of a false question, for each such look
LEAST_OFF_MM = 0.15  # nobody minds less
KNOWN_MM = 4.0  # what is believed no better says nothing of what was done
FITS_SDS = 2.5
DIAL_FITS_MM = 1.0


class AnswerKind(StrEnum):
    """What may have been."""

    OTHER_WAY = "other_way"
    NOT_MADE = "not_made"
    DIAL = "dial"
    HOME = "home"
    PIN = "pin"
    DISTANCE = "distance"
    MOVED = "moved"
    BAD = "bad"
    COUNT = "count"


OTHER_WAY, NOT_MADE, DIAL, STOOD_AT_HOME, PIN, DISTANCE, MOVED, BAD, COUNT = AnswerKind


@dataclass(frozen=True)
class Answer:
    """One likely answer: the control that was moved (about `amount` of `unit`), or that goes the other way; the key
    of a movement that was not made; the reading that the dial had [mm], None for one that nobody knows; the pin; the
    distance [m as ranged]; the keys of the ends that it is about, where these are not the ones asked about."""

    kind: AnswerKind
    drive: str = ""
    moves: str = ""
    amount: float | None = None
    unit: str = ""
    move: str = ""
    dial_mm: float | None = None
    pin: int | None = None
    ranged_m: float | None = None
    ends: tuple[str, ...] = ()


@dataclass(frozen=True)
class Question:
    """Ends that do not belong to what is believed: the newest ones, oldest first; how far off they are, right and up
    [mm at the sight plane, still to go, more than was believed], the sds, and the likely answers, likeliest first."""

    ends: tuple[End, ...]
    off_mm: tuple[float, float]
    sd_mm: tuple[float, float]
    answers: tuple[Answer, ...]

    @property
    def keys(self) -> tuple[str, ...]:
        """The keys of its ends."""
        return tuple(end.key for end in self.ends)


@dataclass(frozen=True)
class _Off:
    """How far some ends are off in one direction: value and sd [mm], None where nothing can be said."""

    value: float
    sd: float

    @property
    def squared(self) -> float:
        return (self.value / self.sd) ** 2


def question(estimate: AimEstimate, places: Mapping[str, int]) -> Question | None:
    """Hold the newest end, and the newest few together, against what was believed before them.

    Args:
        estimate: of everything that was shot and moved.
        places: of ends among the observations of the fit, by their keys.

    Returns:
        the question; None where they agree, or where nothing was believed.

    Source:
        T^2 of the innovation against the estimate before, F-distributed (docs/method.md, section 14).
    """
    newest = _open_ends(estimate)
    for count in range(1, len(newest) + 1):
        ends = newest[-count:]
        off = _off(estimate, ends, places)
        if _beyond(estimate, off):
            first = _first(estimate, newest, places)
            off = _off(estimate, first, places) if first != ends else off
            value = tuple(0.0 if each is None else each.value for each in off)
            sd = tuple(math.inf if each is None else each.sd for each in off)
            return Question(first, (value[0], value[1]), (sd[0], sd[1]), _answers(estimate, first, off))
    return None


def older_question(estimate: AimEstimate, evaluation: Evaluation) -> Question | None:
    """An end of before, at a reading of the dial, that the marks shot since do not bear out.

    Args:
        estimate: of everything that was shot and moved.
        evaluation: of the tape, with the one row that is to be looked at first.

    Returns:
        the question; None where the marks agree, or where that end was asked about already.

    Source:
        residuals against all others, docs/method.md, section 5.
    """
    row, ends = evaluation.suspect, estimate.log.ends
    if row is None or not row.entry.from_range or -row.entry.line > len(ends):
        return None
    end = ends[-row.entry.line - 1]
    places = [place for place, used in enumerate(evaluation.used) if used.entry.line == row.entry.line]
    shift = shift_of(estimate.fit, places) if places else None
    if end.asked or shift is None or not _dialled(estimate, end):
        return None
    up = _Off(-shift[0] / estimate.fit.tape_ratio, shift[1] / estimate.fit.tape_ratio)
    answers = (*_other_reading(estimate, (end,), up), Answer(BAD), Answer(COUNT))
    return Question((end,), (0.0, up.value), (math.inf, up.sd), answers)


def _open_ends(estimate: AimEstimate) -> tuple[End, ...]:
    """The newest ends that were not asked about, oldest first."""
    newest: list[End] = []
    for end in reversed(estimate.standing):
        if end.asked or len(newest) == NEWEST:
            break
        newest.insert(0, end)
    return tuple(newest)


def _first(estimate: AimEstimate, newest: tuple[End, ...], places: Mapping[str, int]) -> tuple[End, ...]:
    """From which of the newest ends on it is likeliest that something was different: the longest of those looks that
    show it nearly as clearly as the clearest."""
    looks = []
    for count in range(1, len(newest) + 1):
        off = [each for each in _off(estimate, newest[-count:], places) if each is not None]
        looks.append(sum(each.squared for each in off))
    clearest = max(range(len(looks)), key=looks.__getitem__)
    return newest[-(clearest + 1) :]


def _beyond(estimate: AimEstimate, off: Sequence[_Off | None]) -> bool:
    known = [each for each in off if each is not None]
    if not known or max(abs(each.value) for each in known) < LEAST_OFF_MM:
        return False
    return sum(each.squared for each in known) > _limit(len(known), estimate.spread.freedom)


def _limit(directions: int, freedom: float | None) -> float:
    """The quantile of T^2 beyond which a look is a question."""
    from scipy.special import chdtri, fdtri

    if freedom is None:
        return float(chdtri(directions, CHANCE))
    return float(directions * fdtri(directions, freedom, 1.0 - CHANCE))


def before(estimate: AimEstimate, end: End, until: float | None = None) -> AimEstimate:
    """What was believed before an end was shot; with the movements that were made up to a place in the order.

    Args:
        estimate: of everything.
        end: before which.
        until: place in the order of ends and moves [-]; None: that of the end.

    Returns:
        the estimate of then, with the flight as it is known now.

    Source:
        docs/method.md, section 14.
    """
    log, place = estimate.log, end.order if until is None else until
    earlier = replace(
        log,
        ends=tuple(e for e in log.ends if e.order < end.order),
        moves=tuple(m for m in log.moves if m.order < place),
        entries=tuple(e for e in log.entries if e.key != SQUARE or log.place_at(e.entered) < place),
    )
    return AimEstimate(estimate.card, earlier, estimate.fit, estimate.holds, estimate.spans)


def _off(
    estimate: AimEstimate, ends: Sequence[End], places: Mapping[str, int], known_mm: float = KNOWN_MM
) -> tuple[_Off | None, _Off | None]:
    """How far these ends together are from what was believed before the first of them, right and up; None where that
    was known no better than to so much."""
    earlier = before(estimate, ends[0])
    rights = [_right_off(estimate, earlier, ends[0], end) for end in ends]
    ups = [_up_off(estimate, earlier, ends[0], end) for end in ends]
    return _together(rights, known_mm), _dial_off(estimate, ends, places) or _together(ups, known_mm)


def _together(rows: Sequence[tuple[float, float, float] | None], known_mm: float) -> _Off | None:
    """Ends as one: what each is off, its own sd, and the sd of what was believed, which they share."""
    known = [row for row in rows if row is not None]
    if not known:
        return None
    weights = [row[1] ** -2.0 for row in known]
    value = sum(w * row[0] for w, row in zip(weights, known)) / sum(weights)
    believed = max(row[2] for row in known)
    return _Off(value, math.hypot(sum(weights) ** -0.5, believed)) if believed < known_mm else None


def _at(estimate: AimEstimate, earlier: AimEstimate, first: End, end: End) -> AimEstimate:
    return earlier if end is first else before(estimate, first, end.order)


def _right_off(estimate: AimEstimate, earlier: AimEstimate, first: End, end: End) -> tuple[float, float, float] | None:
    seen = estimate.seen_right(estimate.without_suspects(end))
    if seen is None:
        return None
    value, sd = _at(estimate, earlier, first, end).right.of({"right": 1.0})
    return seen.value - value, seen.sd, sd


def _up_off(estimate: AimEstimate, earlier: AimEstimate, first: End, end: End) -> tuple[float, float, float] | None:
    seen = _to_go(estimate, estimate.without_suspects(end), end.pin)
    believed = _at(estimate, earlier, first, end)
    if seen is None or believed.up is None:
        return None
    value, sd = believed.up.of(believed.weights(end.pin))
    return seen[0] - value, seen[1], math.hypot(sd, _day_mm(earlier, end))


def _dial_off(estimate: AimEstimate, ends: Sequence[End], places: Mapping[str, int]) -> _Off | None:
    """How far ends at a reading of the dial are, together, from what the fit would have without them."""
    own = [places[end.key] for end in ends if end.key in places and _dialled(estimate, end)]
    shift = shift_of(estimate.fit, own) if own else None
    if shift is None:
        return None
    value, sd = (each / estimate.fit.tape_ratio for each in shift)
    return _Off(-value, sd) if sd < KNOWN_MM else None


def _dialled(estimate: AimEstimate, end: End) -> bool:
    """Whether the reading of the dial, and not the home position, says where an end's pin stood."""
    if end.dial_mm is None:
        return False
    return estimate.lift_mm(end) is None or (estimate.by_wheel and end.pin == 0)


def _to_go(estimate: AimEstimate, end: End, pin: int) -> tuple[float, float] | None:
    """How far an end says that a pin must still go up, had it been shot with that one [mm], and the sd."""
    if pin >= len(estimate.distances) or (pin == 0 and estimate.by_wheel):
        return None
    if end not in estimate.log.ends:
        others = tuple(end if each.key == end.key else each for each in estimate.log.ends)
        log = replace(estimate.log, ends=others)
        estimate = AimEstimate(estimate.card, log, estimate.fit, estimate.holds, estimate.spans)
    return estimate.to_go_mm(end, pin)


def _day_mm(earlier: AimEstimate, end: End) -> float:
    """What the day may have set this end off by beside those that the belief rests on [mm]."""
    days = {each.session for each in earlier.counted}
    if not days or end.ranged_m is None or days == {end.session}:
        return 0.0
    return earlier.day_mm(end.ranged_m) * math.sqrt(1.0 + 1.0 / len(days))


# what may have been
def _answers(estimate: AimEstimate, ends: tuple[End, ...], off: tuple[_Off | None, _Off | None]) -> tuple[Answer, ...]:
    """The likely answers, the likeliest first; that the ends are bad, and that they count all the same, at last."""
    shares = [each is not None and each.squared > 4.0 for each in off]
    right, up = (each if share else None for each, share in zip(off, shares))
    told: list[Answer] = []
    told += _of_the_last_move(estimate, ends[0], right, up)
    told += _earlier_end(estimate, ends, (right, up))
    if up is not None:
        told += [*_other_reading(estimate, ends, up), *_other_pin(estimate, ends, up), *_other_distance(estimate, ends)]
    told += _other_move(estimate, ends[0], right, up)
    return (*dict.fromkeys(told), Answer(BAD), Answer(COUNT))


def _of_the_last_move(estimate: AimEstimate, first: End, right: _Off | None, up: _Off | None) -> list[Answer]:
    """The movement just before these ends went the other way, or was not made."""
    moves = [m for m in estimate.log.moves if m.order < first.order and not m.placed and m.counted]
    since = [m for m in moves if not any(m.order < e.order < first.order for e in estimate.counted)]
    told = []
    for move in reversed(since):
        off = right if move.moves in SIDEWAYS else up
        drive = next((d for d in estimate.controls if d.name == move.drive), None)
        if off is None or drive is None or (move.moves == "pin" and move.pin != first.pin):
            continue
        made = move.amount * before(estimate, first).travel_per_unit(drive)[0]
        sd = math.hypot(off.sd, 0.15 * made)
        if abs(off.value - 2.0 * made) < FITS_SDS * math.hypot(sd, 0.15 * made):
            told.append(Answer(OTHER_WAY, move.drive, move.moves))
        if abs(off.value - made) < FITS_SDS * sd:
            told.append(Answer(NOT_MADE, move.drive, move.moves, move.amount, move.unit, move.key, pin=move.pin))
    return told


def _earlier_end(estimate: AimEstimate, ends: tuple[End, ...], off: tuple[_Off | None, _Off | None]) -> list[Answer]:
    """An end shortly before these was the odd one: without it they are as believed, and it is not."""
    earlier = [end for end in estimate.standing if end.order < ends[0].order and not end.asked]
    for odd in reversed(earlier[-NEWEST:]):
        log = replace(estimate.log, ends=tuple(end for end in estimate.log.ends if end is not odd))
        others = AimEstimate(estimate.card, log, estimate.fit, estimate.holds, estimate.spans)
        left = _off(others, ends, {}, math.inf)
        if not all(was is None or (now is not None and now.squared < FITS_SDS**2) for was, now in zip(off, left)):
            continue
        right, up = _apart_right(estimate, others, odd), _apart_up(estimate, others, odd, odd.pin)
        limit = _limit(1, estimate.spread.freedom)
        if not any(each is not None and each.squared > limit for each in (right, up)):
            continue
        told = []
        if right is None or right.squared < limit:
            apart = ((pin, _apart_up(estimate, others, odd, pin)) for pin in range(len(estimate.distances)))
            fits = [(each.squared, pin) for pin, each in apart if each is not None and pin != odd.pin]
            told = [pin for squared, pin in sorted(fits) if squared < FITS_SDS**2][:2]
        return [*(Answer(PIN, pin=pin, ends=(odd.key,)) for pin in told), Answer(BAD, ends=(odd.key,))]
    return []


def _apart_right(estimate: AimEstimate, others: AimEstimate, end: End) -> _Off | None:
    """How far an end is sideways from what all others say, those after it too."""
    seen = estimate.seen_right(estimate.without_suspects(end))
    if seen is None:
        return None
    then, since, now = (each.right.of({"right": 1.0}) for each in (*_around(others, end), others))
    return _apart((seen.value, seen.sd), then, since, now)


def _apart_up(estimate: AimEstimate, others: AimEstimate, end: End, pin: int) -> _Off | None:
    """How far an end is in height, had it been shot with a pin, from what all others say, those after it too."""
    seen = _to_go(estimate, estimate.without_suspects(end), pin)
    ups = [each.up for each in (*_around(others, end), others)]
    if seen is None or any(up is None for up in ups):
        return None
    then, since, now = (up.of(others.weights(pin)) for up in ups if up is not None)
    return _apart(seen, then, since, now)


def _around(others: AimEstimate, end: End) -> tuple[AimEstimate, AimEstimate]:
    """What was believed at an end, and that with all the movements since."""
    return before(others, end), before(others, end, math.inf)


def _apart(
    seen: tuple[float, float], then: tuple[float, float], since: tuple[float, float], now: tuple[float, float]
) -> _Off | None:
    """What was seen, carried through the movements since, beside what is believed now."""
    moved_sd = math.sqrt(max(since[1] ** 2 - then[1] ** 2, 0.0))
    sd = math.hypot(now[1], moved_sd)
    return _Off(seen[0] + since[0] - then[0] - now[0], math.hypot(seen[1], sd)) if sd < KNOWN_MM else None


def _other_reading(estimate: AimEstimate, ends: tuple[End, ...], up: _Off) -> list[Answer]:
    """The dial stood elsewhere: where it was left before, or where these arrows put it."""
    if not estimate.kind.dialled:
        return []
    believed = ends[0].dial_mm if ends[0].dial_mm is not None else estimate.home_dial_mm
    if believed is None:
        return [Answer(DIAL)]
    stood = believed + estimate.card.tape.direction * estimate.fit.tape_ratio * up.value
    earlier = [e.dial_mm for e in estimate.log.ends if e.order < ends[0].order and e.dial_mm is not None]
    near = max(DIAL_FITS_MM, FITS_SDS * up.sd * estimate.fit.tape_ratio)
    left = earlier[-1] if earlier and abs(earlier[-1] - stood) < near and abs(earlier[-1] - believed) > 0.3 else None
    told = [] if left is None else [Answer(DIAL, dial_mm=left)]
    return [*told, Answer(DIAL)]


def _other_pin(estimate: AimEstimate, ends: tuple[End, ...], up: _Off) -> list[Answer]:
    """Another pin was aimed with, all these ends alike."""
    end = ends[0]
    earlier = before(estimate, end)
    fits = []
    for pin in range(len(estimate.distances)):
        seen = _to_go(estimate, end, pin) if pin != end.pin else None
        if seen is None or earlier.up is None:
            continue
        value, sd = earlier.up.of(earlier.weights(pin))
        z = abs(seen[0] - value) / math.hypot(sd, seen[1], up.sd)
        if z < FITS_SDS and sd < KNOWN_MM:
            fits.append((z, pin))
    return [Answer(PIN, pin=pin) for _, pin in sorted(fits)[:2]]


def _other_distance(estimate: AimEstimate, ends: tuple[End, ...]) -> list[Answer]:
    """It was shot at another distance, one that this rig is shot at or a few steps off."""
    end, earlier = ends[0], before(estimate, ends[0])
    if end.ranged_m is None or earlier.up is None or end.pin >= len(estimate.distances):
        return []
    goals, unit = estimate.card.goals, estimate.card.tape.unit_m
    near = [end.ranged_m + step * unit for step in (-10, -5, 5, 10)]
    wanted = {d for d in (*goals.distances_m, *estimate.distances, *near) if 2.0 < d < 150.0}
    fits = []
    value, sd = earlier.up.of(earlier.weights(end.pin))
    tried = sorted(d for d in wanted if not same_distance(d, end.ranged_m or 0.0))
    for distance, seen in zip(tried, estimate.to_go_from(end, end.pin, tried)):
        if seen is not None and abs(seen[0] - value) < FITS_SDS * math.hypot(sd, seen[1]):
            fits.append((abs(distance - end.ranged_m), distance))
    return [Answer(DISTANCE, ranged_m=distance) for _, distance in sorted(fits)[:2]]


def _other_move(estimate: AimEstimate, first: End, right: _Off | None, up: _Off | None) -> list[Answer]:
    """A control was moved before these ends, and nobody noted it: about how far."""
    told = []
    for drive in estimate.controls:
        off = right if drive.moves in SIDEWAYS else up
        along = drive.moves in SIDEWAYS or drive.moves in ("gang_elevation", "pin", "spread")
        if (
            off is None
            or not along
            or drive.last_resort
            or (drive.moves == "pin" and not first.pin and estimate.by_wheel)
        ):
            continue
        told.append(_moved(estimate, drive, -off.value, first.pin if drive.moves == "pin" else None))
    return told


def _moved(estimate: AimEstimate, drive: RangeControl, travel_mm: float, pin: int | None) -> Answer:
    size = estimate.travel_per_unit(drive)[0]
    step = SMALLEST[drive.unit]
    amount = travel_mm if drive.unit == STEP else step * round(travel_mm / size / step)
    return Answer(MOVED, drive.name, drive.moves, round(amount, 3), drive.unit, pin=pin)
