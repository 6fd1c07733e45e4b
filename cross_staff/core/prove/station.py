"""The prove station: the tape that is on the sight, its chain of lines, what they say, and what is next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prove.chain import Aside, Chain, Given, ProofTape, chain, set_aside
from cross_staff.core.prove.locking import LOCK, check_lock
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.triage import JOINTS, Seen
from cross_staff.core.prove.verdict import TapeVerdict, VerdictKind
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, standing

LAID = "tape"  # the key of the entries that say which tape is on the sight
MENDED = "proof:"  # how the note begins of a laying that lines had asked for
MARK = "mark:"  # before the key of a joint: what its witness mark showed
PINS = "pins"  # the code of fixed pins, proven like a tape


@dataclass(frozen=True)
class ProveState:
    """The station: the chain of the tape that is on the sight, None where there is none, or nobody said which; tapes to
    choose from; the chains of the others; every line that stands, those aside with why; mended, where pointer or strip
    were moved as lines had asked, and nothing was done since; other_arrow, whether the tape that is on the sight is for
    another arrow than is on the bow."""

    current: Chain | None
    tapes: tuple[ProofTape, ...] = ()
    others: tuple[Chain, ...] = ()
    lines: tuple[ProofLine, ...] = ()
    aside: tuple[tuple[ProofLine, Aside], ...] = ()
    mended: bool = False
    other_arrow: bool = False

    @property
    def asks_which(self) -> bool:
        """Whether there are tapes, and nobody said which one is on the sight."""
        return self.current is None and bool(self.tapes)

    @property
    def verdict(self) -> TapeVerdict | None:
        return None if self.current is None else self.current.verdict

    @cached_property
    def why_aside(self) -> dict[str, Aside]:
        """Why a line does not count, by its key."""
        return {line.key: why for line, why in self.aside}


def check_entry(card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be said here. Raises: NotFound; InvalidValue."""
    if entry.key.startswith(LOCK):
        check_lock(card, entry)
        return
    joint = entry.key.removeprefix(MARK)
    if joint != entry.key and joint in {each.key for each in JOINTS}:
        if entry.choice not in set(Seen):
            raise InvalidValue("mark", "choose one from the list")
        return
    if entry.key != LAID:
        raise NotFound(f"nothing is written down of {entry.key}")
    if not entry.choice:
        raise InvalidValue("tape", "say which tape is on the sight")


def laid(entries: Sequence[BenchEntry]) -> BenchEntry | None:
    """The entry that says which tape is on the sight.

    Args:
        entries: of this station, oldest first, shape (n,).

    Returns:
        the newest that stands; None where nobody said.

    Source:
        the log of every station.
    """
    said = standing(entries).get(LAID, [])
    return said[-1] if said else None


def prove_state(
    given: Given, tapes: Sequence[ProofTape], lines: Sequence[ProofLine], entries: Sequence[BenchEntry]
) -> ProveState:
    """How proving stands.

    Args:
        given: what the station goes by.
        tapes: that can be on the sight, the newest first, shape (m,).
        lines: that stand, by day, shape (n,).
        entries: of this station, oldest first.

    Returns:
        the state.

    Source:
        docs/method.md, section 17.
    """
    said = laid(entries)
    now = _tape_now(given, tapes, said)
    laying = said.entry_id if said is not None and now is not None and said.choice == now.code else 0
    current = None if now is None else chain(given, now, laying, lines)
    others = _others(given, tapes, lines, current)
    return ProveState(
        current,
        tuple(tapes),
        others,
        tuple(lines),
        set_aside(given, now, laying, lines) if now is not None else (),
        laying > 0 and said is not None and said.note.startswith(MENDED) and said.revision in given.holding.revisions,
        now is not None and now.arrow != given.holding.arrows[-1],
    )


def _others(
    given: Given, tapes: Sequence[ProofTape], lines: Sequence[ProofLine], current: Chain | None
) -> tuple[Chain, ...]:
    """Every other chain, the newest first: of another tape or laying, or from before something was done."""
    by_code, counted = {tape.code: tape for tape in tapes}, set(current.lines if current is not None else ())
    seen = dict.fromkeys(
        (line.tape, line.laying, given.holding.done_before(line))
        for line in reversed(lines)
        if line.tape in by_code and line not in counted
    )
    told = (chain(given, by_code[code], laying, lines, done) for code, laying, done in seen)
    kept = (each for each in told if each.lines and not counted.intersection(each.lines))
    return tuple(kept)


def _tape_now(given: Given, tapes: Sequence[ProofTape], said: BenchEntry | None) -> ProofTape | None:
    """The tape that somebody said is on the sight; the only one there is for this arrow; else nobody knows."""
    if said is not None:
        return next((tape for tape in tapes if tape.code == said.choice), None)
    arrow = given.holding.arrows[-1]
    mine = [tape for tape in tapes if tape.arrow == arrow]
    return mine[0] if len(mine) == 1 else None


def told_true(state: ProveState) -> bool:
    """Whether the tape that is on the sight is told to be true, at every distance wanted.

    Args:
        state: of the station.

    Returns:
        True where it is, the tape goes as far as is wanted, and is for the arrow that is on the bow.

    Source:
        docs/method.md, section 17.
    """
    verdict, current = state.verdict, state.current
    if verdict is None or current is None or state.other_arrow:
        return False
    return verdict.kind == VerdictKind.TRUE and not current.too_far_m
