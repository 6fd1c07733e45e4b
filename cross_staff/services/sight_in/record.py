"""Sight in: sessions, ends and their shots, movements, steps and choices; nothing is ever written over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.log import BenchEntry, check_reason
from cross_staff.core.sight_in.checks import HUNDRED_MM, check_end, check_move, check_session
from cross_staff.core.sight_in.log import STATION, End, Move, RangeSession
from cross_staff.core.sight_in.station import DONE, MOVE, PLACE, SKIPPED
from cross_staff.services import log as entries
from cross_staff.services.rig import Rig, view
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


def _session(connection: Connection, rig_id: int, session: RangeSession, known: Sequence[RangeSession]) -> int:
    begun = next((s for s in known if session.key and s.key == session.key), None)
    held = next((s for s in known if s.number == session.number), begun)
    number = held.number if held else 1 + max((s.number for s in known), default=0)
    key = held.key if held else session.key
    wanted = replace(session, number=number, key=key)
    if held is None or replace(wanted, entered=held.entered, revision=held.revision) != held:
        range_log.add_session(connection, rig_id, wanted)
    return number


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


def made_moves(database: Database, rig_id: int, act_key: str, now: datetime, other_way: Sequence[str] = ()) -> None:
    """Note the movements that are asked for now as made; those in `other_way` went against the card.

    act_key is that of the instruction the page showed: said twice, or after somebody else said it, it
    is noted once. Raises NotFound; InvalidValue when another instruction stands by now.
    """
    with database.writing() as connection:
        rig = view(connection, rig_id)
        if any(move.key.startswith(act_key) for move in range_log.moves(connection, rig_id)):
            return
        act = rig.range.act
        if act.kind not in (MOVE, PLACE) or act_key != act_key_of(rig):
            raise InvalidValue("moves", "the instruction changed meanwhile: look at what it says now")
        place = range_log.next_place(connection, rig_id)
        for number, move in enumerate(_moves(rig, now)):
            amount = -move.amount if move.drive in other_way else move.amount
            wanted = replace(move, key=f"{act_key}-{number}", amount=amount, order=place + number)
            range_log.add_move(connection, rig_id, wanted)


def act_key_of(rig: Rig) -> str:
    """A key for the instruction that stands: it changes with everything that is shot or moved."""
    log, act = rig.range_log, rig.range.act
    place = max([0, *(end.order for end in log.ends), *(move.order for move in log.moves)])
    shots = sum(len(end.shots) for end in log.ends)
    pin = act.aim.pin if act.aim else 0
    return f"{rig.revision.number}.{place}.{shots}.{act.kind}.{pin}"


def _moves(rig: Rig, now: datetime) -> list[Move]:
    act, revision = rig.range.act, rig.revision.number
    if act.kind == PLACE and act.aim is not None:
        return [Move("", revision, now, "pin", "pin", 0.0, "mm", act.aim.pin, placed=True)]
    return [
        Move("", revision, now, advice.drive.name, advice.drive.moves, advice.amount, advice.drive.unit, advice.pin)
        for advice in act.moves
    ]


def own_move(database: Database, rig_id: int, move: Move, now: datetime) -> None:
    """Note a movement that the archer made by himself: also that is taken out of the sum. Raises NotFound;
    InvalidValue for a control that the card does not have, or nothing moved."""
    with database.writing() as connection:
        rig = view(connection, rig_id)
        estimate = rig.range.estimate
        drive = next((d for d in estimate.controls if d.name == move.drive), None) if estimate else None
        if drive is None:
            raise InvalidValue("drive", "choose one of the sight's controls")
        check_move(replace(move, unit=drive.unit))
        if any(known.key == move.key for known in range_log.moves(connection, rig_id)):
            return
        pin = move.pin if drive.moves == "pin" else None
        wanted = replace(
            move, revision=rig.revision.number, moves=drive.moves, unit=drive.unit, pin=pin, entered=now,
            order=range_log.next_place(connection, rig_id),
        )  # fmt: skip
        range_log.add_move(connection, rig_id, wanted)


def take_move_back(database: Database, rig_id: int, key: str, now: datetime) -> None:
    """A movement was not made after all. Raises NotFound."""
    with database.writing() as connection:
        held = next((m for m in range_log.moves(connection, rig_id) if m.key == key and not m.removed), None)
        if held is None:
            raise NotFound("there is no such movement")
        range_log.add_move(connection, rig_id, replace(held, removed=True, entered=now))


def say_step(database: Database, rig_id: int, key: str, skipped: bool, who: str, now: datetime) -> None:
    """Say that a step is done, or skipped and confirmed by somebody. Raises NotFound; InvalidValue."""
    choice = SKIPPED if skipped else DONE
    entries.enter(database, rig_id, BenchEntry(STATION, f"step:{key}", 0, now, choice=choice, note=who.strip()))


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


def set_circle(database: Database, rig_id: int, size_m: float, now: datetime) -> None:
    """The archer's own step-back circle: its diameter at the home distance [m]. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "circle", 0, now, number=size_m))


def set_face(database: Database, rig_id: int, face: str, size_m: float | None, now: datetime) -> None:
    """The face that is drawn to be tapped on, and its size [m]. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "face", 0, now, number=size_m, choice=face))
