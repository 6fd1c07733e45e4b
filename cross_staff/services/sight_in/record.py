"""Sight in: sessions, ends and their shots, movements, steps and choices; nothing is ever written over."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.card import SPREADS_ACROSS_GROUP
from cross_staff.core.rig.log import BenchEntry, check_reason
from cross_staff.core.sight_in.acts import DONE
from cross_staff.core.sight_in.checks import DIAL_MM, HUNDRED_MM, check_end, check_session
from cross_staff.core.sight_in.dispersion import wider_than_the_card
from cross_staff.core.sight_in.home import LAID_BY_HOME
from cross_staff.core.sight_in.log import STATION, End, RangeSession
from cross_staff.core.sight_in.orders import identity, order_of
from cross_staff.core.sight_in.readings import ReadAs, reading_mm
from cross_staff.services import log as entries
from cross_staff.services.rig import Rig, open_rig, view
from cross_staff.services.sight_in.ends import keep_session, pin_count, pins_at
from cross_staff.storage import range_log, rigs
from cross_staff.storage.database import Database


def save_session(database: Database, rig_id: int, session: RangeSession, now: datetime) -> int:
    """Begin a session (number 0), or write a newer entry of one; the same key begins it once. Returns its
    number. Raises NotFound; InvalidValue."""
    check_session(session)
    with database.writing() as connection:
        known = range_log.sessions(connection, rig_id)
        revision = rigs.latest(connection, rig_id).number
        return keep_session(connection, rig_id, replace(session, revision=revision, entered=now), known)


def pins_of(rig: Rig) -> int:
    """How many pins can be aimed with."""
    return pin_count(rig.card, rig.range_log.chosen)


def change_end(database: Database, rig_id: int, key: str, now: datetime, **changes: object) -> None:
    """A newer entry of an end: left out or used again, taken out or put back, another pin, asked. Its shots
    stay as they are. Raises NotFound."""
    with database.writing() as connection:
        _change_end(connection, rig_id, _end(connection, rig_id, key), now, **changes)


def _end(connection: Connection, rig_id: int, key: str) -> End:
    held = next((end for end in range_log.ends(connection, rig_id) if end.key == key), None)
    if held is None:
        raise NotFound("there is no such end")
    return held


def _change_end(connection: Connection, rig_id: int, held: End, now: datetime, **changes: object) -> None:
    wanted = replace(held, **changes)  # type: ignore[arg-type]
    check_end(wanted, pins_at(connection, rig_id, rigs.latest(connection, rig_id).card), held)
    if wanted != held:
        range_log.add_end(connection, rig_id, replace(wanted, entered=now))


def leave_out(database: Database, rig_id: int, key: str, reason: str, now: datetime) -> None:
    """Leave an end out of every sum, with its reason added to the note; nothing of it is lost.

    Raises: NotFound; InvalidValue for a reason of less than two words.
    """
    check_reason(reason)
    with database.writing() as connection:
        held = _end(connection, rig_id, key)
        note = f"{held.note}; left out: {reason}" if held.note else f"left out: {reason}"
        _change_end(connection, rig_id, held, now, left_out=True, note=note)


def mark_shot(database: Database, rig_id: int, end_key: str, shot_key: str, bad: bool, now: datetime) -> None:
    """Call a kept shot bad, or take that back. Raises NotFound."""
    with database.writing() as connection:
        ends = {end.key: end for end in range_log.ends(connection, rig_id)}
        shots = {shot.key: shot for shot in ends[end_key].shots} if end_key in ends else {}
        if shot_key not in shots:
            raise NotFound("there is no such shot")
        if shots[shot_key].called_bad != bad:
            range_log.add_shots(connection, rig_id, end_key, [(replace(shots[shot_key], called_bad=bad), False)], now)


def act_key_of(rig: Rig) -> str:
    """The name of the order that stands."""
    return identity(order_of(rig.range.act), rig.range_log)


def say_step(
    database: Database, rig_id: int, key: str, state: str, who: str, now: datetime, mark_mm: float | None = None
) -> None:
    """Say that a step is done, with the mark that it read; that it is good enough; or that it is skipped and confirmed
    by somebody. What lies on the sight by home is said with the mark that home had then. Raises NotFound;
    InvalidValue."""
    if mark_mm is None and key in LAID_BY_HOME:
        estimate = open_rig(database, rig_id).range.estimate
        mark_mm = None if estimate is None else estimate.home_dial_mm
    entry = BenchEntry(STATION, f"step:{key}", 0, now, mark_mm, state, note=who.strip())
    entries.enter(database, rig_id, entry)


def say_stand(database: Database, rig_id: int, what: str, value_mm: float | None, now: datetime) -> None:
    """Where the dial, or a control, stands [mm]; None where nobody knows. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, f"stand:{what}", 0, now, value_mm))


def say_counts(database: Database, rig_id: int, end_key: str, now: datetime) -> None:
    """The shots of an end count, also one that lies far from its others. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, f"counts:{end_key}", 0, now, choice="kept"))


def read_dial(rig: Rig, way: str, value: float, clicks: float) -> float:
    """A reading of the dial as it is read, a key of ReadAs, in millimetres of the scale.

    Raises: InvalidValue for a way in which this sight cannot be read, or a number that is on no scale.
    """
    ways = {each.value: each for each in ReadAs}
    if way not in ways:
        raise InvalidValue("dial", "this sight cannot be read like that")
    return DIAL_MM.check("dial", reading_mm(rig.card, rig.range.estimate, ways[way], value, clicks), "mm")


def say_shaft(database: Database, rig_id: int, shaft: str, said: str, now: datetime) -> None:
    """What was done about a numbered shaft, a value of ShaftSaid. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, f"shaft:{shaft}", 0, now, choice=said))


def take_spread(database: Database, rig_id: int, take: bool, now: datetime) -> None:
    """Take the archer's own spread over onto the card, or leave it; he is told once. Raises NotFound."""
    with database.writing() as connection:
        rig = view(connection, rig_id)
        estimate = rig.range.estimate
        wider = wider_than_the_card(rig.card, estimate.counted) if estimate else None
        if take and wider is not None:
            goals = rig.history[-1].card.goals
            at_m = goals.group_at_m or goals.home_m or 18.0
            size = 1e-3 * wider.own_mrad * SPREADS_ACROSS_GROUP * at_m
            card = replace(rig.history[-1].card, goals=replace(goals, group_size_m=round(size, 4), group_at_m=at_m))
            note = f"the usual group, by the last {wider.arrows} arrows"
            rigs.add_revision(connection, rig_id, rig.revision.number, card, now, note)
        choice = "taken" if take else "left"
        entries.keep_entry(connection, rig_id, BenchEntry(STATION, "spread_told", 0, now, choice=choice))


def start_farther(database: Database, rig_id: int, home_m: float, now: datetime) -> None:
    """Move home farther out once there are marks: the card's home, and a procedure of its own; the tape then starts
    there.

    Raises: NotFound; InvalidValue for a home that is not farther, or where no mark says how far the housing goes down.
    """
    with database.writing() as connection:
        rig = view(connection, rig_id)
        card, estimate, old = rig.history[-1].card, rig.range.estimate, rig.card.goals.home_m
        if old is None or home_m <= old:
            raise InvalidValue("new_home", "farther than home is now: a nearer one is found by the wheel")
        marks = [estimate.fitted_mark(each) if estimate else None for each in (old, home_m)]
        if estimate is None or marks[0] is None or marks[1] is None:
            raise InvalidValue("new_home", "shoot home and one dialled mark first: they say how far it goes down")
        lower = abs(marks[1][0] - marks[0][0]) / estimate.fit.tape_ratio
        moved = replace(card, goals=replace(card.goals, home_m=home_m))
        rigs.add_revision(connection, rig_id, rig.revision.number, moved, now, "home moved farther out")
        entries.keep_entry(connection, rig_id, BenchEntry(STATION, "rehome", 0, now, home_m, points=((old, lower),)))


def calibrate_click(database: Database, rig_id: int, per_click_mm: float, now: datetime) -> None:
    """Write what a click of the elevation drum travels on the card, as a revision, and the step as done.

    Raises: NotFound; InvalidValue for a sight without a drum.
    """
    HUNDRED_MM.check("hundred_clicks", 100.0 * per_click_mm, "mm")
    with database.writing() as connection:
        latest = rigs.latest(connection, rig_id)
        sight = latest.card.sight
        if not any(control.moves == "elevation" for control in sight.controls):
            raise InvalidValue("hundred_clicks", "this sight's card has no elevation control")
        controls = tuple(
            replace(c, per_click_mm=per_click_mm, per_turn_mm=None) if c.moves == "elevation" else c
            for c in sight.controls
        )
        card = replace(latest.card, sight=replace(sight, controls=controls))
        if card != latest.card:
            rigs.add_revision(connection, rig_id, latest.number, card, now, f"a click travels {per_click_mm:.4g} mm")
        entries.keep_entry(connection, rig_id, BenchEntry(STATION, "step:click", 0, now, choice=DONE))


def reopen_step(database: Database, rig_id: int, key: str, now: datetime) -> None:
    """Take back that a step was said to be done. Raises NotFound."""
    entries.take_back(database, rig_id, BenchEntry(STATION, f"step:{key}", 0, now))


def choose(database: Database, rig_id: int, question: str, school: str, now: datetime) -> None:
    """Choose a school. Raises NotFound for a question or a school that there is not."""
    entries.enter(database, rig_id, BenchEntry(STATION, f"choose:{question}", 0, now, choice=school))


def set_circle(database: Database, rig_id: int, size_m: float, now: datetime, kind: str = "angle") -> None:
    """The archer's own step-back circle: its diameter [m] at the home distance, an angle that grows with distance, or
    a size on the target that stays. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "circle", 0, now, number=size_m, choice=kind))


def set_face(database: Database, rig_id: int, face: str, size_m: float | None, now: datetime) -> None:
    """The face that is drawn to be tapped on, and its size [m]. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "face", 0, now, number=size_m, choice=face))
