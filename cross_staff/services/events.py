"""What happened to a rig, whichever page it is said on: recorded, taken back, taken up again, restored."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.correction import Meaning
from cross_staff.core.rig.events import CAUSES, RESULTS
from cross_staff.core.rig.log import check_reason
from cross_staff.core.rig.staleness import Said, TakenUp, Timeline, noticed
from cross_staff.services.measured import measured, would_set_aside
from cross_staff.services.reproof import PROVED
from cross_staff.services.rig import Rig
from cross_staff.storage import rigs
from cross_staff.storage.database import Database


def happened(database: Database, rig_id: int, keys: Sequence[str], why: str, now: datetime) -> int:
    """Record that something was done to the bow, as a revision with the same card; returns its number.

    Args: keys of CAUSES that can be said. Raises: NotFound; InvalidValue where nothing of the kind is said.
    """
    said = tuple(key for key in CAUSES if key in keys and CAUSES[key].can_be_said)
    if not said or len(said) != len(set(keys)):
        raise InvalidValue("happened", "say what was done")
    with database.writing() as connection:
        return _add(connection, rig_id, now, why, Said(happened=said))


def noted(connection: Connection, rig_id: int, key: str, now: datetime, why: str) -> None:
    """Record what a station saw done, where it sets aside anything that holds: a screw that is turned before the
    first arrow is nothing to be told of. Within the transaction of the station."""
    if would_set_aside(measured(connection, rig_id), CAUSES[key].makes_stale):
        _add(connection, rig_id, now, why, Said(happened=(key,)))


def undo(database: Database, rig_id: int, number: int, why: str, now: datetime) -> int:
    """Say that an event did not happen after all: what it set aside holds again. Returns the new revision's number.

    Raises: NotFound for a revision that called nothing up, or was taken back already; InvalidValue without a reason.
    """
    check_reason(why)
    with database.writing() as connection:
        events = _timeline(connection, rig_id).events
        if not any(event.number == number and not event.undone for event in events):
            raise NotFound("there is no such event to take back")
        return _add(connection, rig_id, now, why, Said(undoes=(number,)))


def take_up(database: Database, rig_id: int, results: Sequence[str], why: str, now: datetime) -> int:
    """Say that results hold, whatever set them aside; returns the new revision's number.

    Args: results, keys of RESULTS. Raises: NotFound where nothing of the kind is set aside; InvalidValue without a
        reason.
    """
    check_reason(why)
    with database.writing() as connection:
        again = tuple(
            TakenUp(result, event.number)
            for event in _timeline(connection, rig_id).events
            for result in RESULTS
            if result in results and result in event.results
        )
        if not again:
            raise NotFound("nothing of the kind is set aside")
        return _add(connection, rig_id, now, why, Said(taken_up=again))


def take_up_proved(database: Database, rig: Rig, why: str, now: datetime) -> int:
    """Take up everything that the smallest re-proof has proved: windage only where it was noted how far left or
    right every end came in. Raises InvalidValue where it is not proved."""
    proof = rig.state.reproof
    if proof is None or not proof.passed:
        raise InvalidValue("proof", "the arrows have not proved it")
    unseen = () if proof.sideways_seen else ("windage", "groups")
    results = [result for result in PROVED if result not in unseen]
    return take_up(database, rig.rig_id, results, why, now)


def restore(database: Database, rig_id: int, number: int, now: datetime, moved_back: bool = False) -> int:
    """The card as it stood at an earlier revision, as the next one; returns its number.

    What was saved since counts as a slip of the pen: nothing that only the card showed since happened. What was said
    to have happened did. Args: moved_back, the bow itself was put back as it was: what was changed then was changed,
    and is again now. Raises NotFound.
    """
    with database.writing() as connection:
        history = rigs.revisions(connection, rig_id)
        if not 0 < number < len(history):
            raise NotFound(f"rig {rig_id} has no earlier revision {number}")
        card = history[number - 1].card
        meaning = Meaning.CHANGED if moved_back else Meaning.MISTYPED
        seen = tuple((key, str(meaning)) for key in noticed(history[-1].card, card))
        slips = () if moved_back else _slips(Timeline([each.state for each in history]), number)
        why = f"as it stood at revision {number}"
        return rigs.add_revision(connection, rig_id, len(history), card, now, why, Said(meant=seen, undoes=slips))


def _slips(timeline: Timeline, number: int) -> tuple[int, ...]:
    """Revisions since `number` of which only the card showed something."""
    later = [event for event in timeline.events if event.number > number and not event.undone]
    return tuple(event.number for event in later if len(event.noticed) == len(event.causes))


def _timeline(connection: Connection, rig_id: int) -> Timeline:
    return Timeline([each.state for each in rigs.revisions(connection, rig_id)])


def _add(connection: Connection, rig_id: int, now: datetime, why: str, said: Said) -> int:
    latest = rigs.latest(connection, rig_id)
    return rigs.add_revision(connection, rig_id, latest.number, latest.card, now, why, said)
