"""Everything that was written down of a rig, read at once."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import Connection

from cross_staff.core.level.log import LevelReading
from cross_staff.core.mount.station import WitnessMark
from cross_staff.core.prove.handover import HandoverCard
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.log import End, Move, RangeSession
from cross_staff.core.tape.rows import TapeMark
from cross_staff.services.elsewhere import Told
from cross_staff.storage import (
    bench_entries,
    handover_cards,
    level_readings,
    observations,
    printed_tapes,
    proof_lines,
    range_log,
    rigs,
    witness_marks,
)
from cross_staff.storage.printed_tapes import KeptTape
from cross_staff.storage.rigs import Revision, RigRow


@dataclass(frozen=True)
class Records:
    """Everything that was ever written down of a rig, as it stands in storage, and what other rigs tell of it."""

    rig_id: int
    row: RigRow
    history: tuple[Revision, ...]
    marks: tuple[TapeMark, ...]
    entries: dict[str, tuple[BenchEntry, ...]]
    looks: tuple[LevelReading, ...]
    witness: tuple[WitnessMark, ...]
    sessions: tuple[RangeSession, ...]
    ends: tuple[End, ...]
    moves: tuple[Move, ...]
    photos: frozenset[int]
    told: Told = Told()
    proofs: tuple[ProofLine, ...] = ()
    printed: tuple[KeptTape, ...] = ()
    handed: tuple[HandoverCard, ...] = ()


def records(connection: Connection, rig_id: int, told: Told = Told()) -> Records:
    """Read what was written down of a rig, beside what others tell of it. Raises NotFound."""
    return Records(
        rig_id,
        rigs.row(connection, rig_id),
        tuple(rigs.revisions(connection, rig_id)),
        tuple(observations.log(connection, rig_id)),
        bench_entries.logs(connection, rig_id),
        tuple(level_readings.log(connection, rig_id)),
        tuple(witness_marks.log(connection, rig_id)),
        range_log.sessions(connection, rig_id),
        range_log.ends(connection, rig_id),
        range_log.moves(connection, rig_id),
        witness_marks.photo_ids(connection, rig_id),
        told,
        tuple(proof_lines.log(connection, rig_id)),
        tuple(printed_tapes.of_rig(connection, rig_id)),
        tuple(handover_cards.of_rig(connection, rig_id)),
    )
