"""Which results still hold: the revisions of a rig, read with the table of events."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.correction import Change, Meaning, changes
from cross_staff.core.rig.events import ALL_MARKS, CAUSES, RESULTS, SPANS, Cause


@dataclass(frozen=True)
class TakenUp:
    """A result that an event of some revision had set aside, and that holds all the same."""

    result: str
    revision: int


@dataclass(frozen=True)
class Said:
    """What was said with a revision: what had happened to the bow, keys of CAUSES; what a cause that is noticed on
    the card means, a value of Meaning; numbers of revisions whose events did not happen after all; results taken up
    again."""

    happened: tuple[str, ...] = ()
    meant: tuple[tuple[str, str], ...] = ()
    undoes: tuple[int, ...] = ()
    taken_up: tuple[TakenUp, ...] = ()

    def __bool__(self) -> bool:
        """Whether anything was said that needs no change of the card to be worth a revision."""
        return bool(self.happened or self.undoes or self.taken_up)


@dataclass(frozen=True)
class State:
    """A revision as the table sees it: the card, and what was said with it."""

    card: RigCard
    said: Said = Said()


@dataclass(frozen=True)
class Event:
    """What a revision called up: its number, the causes, those of them that were only noticed on the card, whether
    it was said later that it did not happen, and which of its results were taken up again."""

    number: int
    causes: tuple[Cause, ...]
    noticed: tuple[str, ...] = ()
    undone: bool = False
    taken_up: frozenset[str] = frozenset()

    @property
    def results(self) -> tuple[str, ...]:
        """What it makes old as things stand, in the order of the stations."""
        return () if self.undone else tuple(r for r in made_stale(self.causes) if r not in self.taken_up)

    def sets_aside(self, key: str, wanted: frozenset[str]) -> bool:
        """Whether one of its causes makes any of these results old."""
        return not self.undone and bool(wanted.intersection(CAUSES[key].makes_stale) - self.taken_up)

    def touches(self, wanted: frozenset[str]) -> bool:
        """Whether it makes any of these results old for good: what can come back is compared by itself."""
        passing = {key for key in self.noticed if key in RETURNS}
        return any(self.sets_aside(cause.key, wanted) for cause in self.causes if cause.key not in passing)


def _arrow(card: RigCard) -> tuple[object, ...]:
    return card.build.flies_as()


def _head(card: RigCard) -> tuple[object, ...]:
    return (card.sight.kind, card.sight.head_in_use)


def _housing(card: RigCard) -> tuple[object, ...]:
    return (card.sight.housing.inner_mm, card.sight.housing.outer_mm)


# what has its results again when it comes back, by the cause that says it went
RETURNS: dict[str, Callable[[RigCard], tuple[object, ...]]] = {"arrow": _arrow, "head": _head, "housing": _housing}


@lru_cache(maxsize=1024)  # every result asks the same of every pair of revisions
def noticed(old: RigCard, new: RigCard) -> Mapping[str, tuple[Change, ...]]:
    """The causes that a save shows by itself, each with the fields that show it; what was not known before is only
    being written down, and a tenth of a millimetre is nothing."""
    told = [change for change in changes(old, new) if not change.fills_in and not change.within_reading]
    if old.peep.height() is None:  # another way of measuring what was not measured yet
        told = [change for change in told if change.path != "peep.way"]
    shown = {}
    for cause in CAUSES.values():
        if cause.key == "arrow":
            fields = tuple(change for change in told if change.path.startswith(("builds", "in_use")))
            if _other(old, new, _arrow) and fields:
                shown[cause.key] = fields
        elif fields := tuple(change for change in told if change.path in cause.paths):
            shown[cause.key] = fields
    return shown


def _other(old: RigCard, new: RigCard, what: Callable[[RigCard], tuple[object, ...]]) -> bool:
    """Whether another one is on the bow now: of the same build, what was not known before is only being written
    down."""
    was, now = what(old), what(new)
    if what is _arrow and old.in_use != new.in_use:
        return was != now
    return any(a != b and a not in (None, (), "") for a, b in zip(was, now))


def causes(old: RigCard, new: RigCard, said: Said = Said()) -> tuple[Cause, ...]:
    """The rows of the table that this save calls up, noticed and said, in the table's order; a noticed one that
    nothing is said of counts as a change of the bow."""
    answers = dict(said.meant)
    shown = {key for key in noticed(old, new) if answers.get(key, Meaning.CHANGED) == Meaning.CHANGED}
    called_up = shown.union(said.happened)
    return tuple(cause for cause in CAUSES.values() if cause.key in called_up)


def made_stale(causes: Iterable[Cause]) -> tuple[str, ...]:
    """The results that these causes make stale, in the order of the stations."""
    stale = {result for cause in causes for result in cause.makes_stale}
    return tuple(result for result in RESULTS if result in stale)


class Timeline:
    """The revisions of a rig as a chain of events: which results of which revision still hold."""

    def __init__(self, history: Sequence[State]) -> None:
        """Args: history, revisions 1, 2, ... of a rig, at least one."""
        self.history = tuple(history)
        self._reckoned: dict[tuple[str, frozenset[int]], list[int]] = {}

    @cached_property
    def events(self) -> tuple[Event, ...]:
        """Every revision that called something up, oldest first, also those that did not happen after all."""
        undone, taken_up = self._taken_back()
        told = []
        for number, (old, new) in enumerate(zip(self.history, self.history[1:]), start=2):
            called_up = causes(old.card, new.card, new.said)
            if called_up:
                seen = tuple(cause.key for cause in called_up if cause.key not in new.said.happened)
                again = frozenset(each.result for each in taken_up if each.revision == number)
                told.append(Event(number, called_up, seen, number in undone, again))
        return tuple(told)

    def _taken_back(self) -> tuple[set[int], set[TakenUp]]:
        """Numbers of the revisions that did not happen after all, and what was taken up again; an undoing that was
        undone itself counts for nothing."""
        undone: set[int] = set()
        taken_up: set[TakenUp] = set()
        for number in range(len(self.history), 0, -1):
            if number not in undone:
                undone.update(self.history[number - 1].said.undoes)
                taken_up.update(self.history[number - 1].said.taken_up)
        return undone, taken_up

    def holding(self, results: Iterable[str]) -> frozenset[int]:
        """Numbers of the revisions at which a measurement that hangs on these results still holds now.

        Every revision since the last event that touches them; arrow and head are compared directly, so that going
        back to a build or a head brings what belongs to it back.
        """
        wanted = frozenset(results)
        numbers = range(1, len(self.history) + 1)
        return frozenset(number for number in numbers if self.set_aside(wanted, number) is None)

    def spans(self) -> tuple[tuple[int, int], ...]:
        """Revisions whose marks are old only because the zero may have moved since, each with the event that moved
        it first: the distances between marks of one such stretch still hold."""
        home = frozenset(("home",))
        old = sorted(self.holding(SPANS) - self.holding(ALL_MARKS))
        moved = [event.number for event in self.events if event.touches(home)]
        return tuple((n, next((m for m in moved if m > n), n)) for n in old)

    def other_arrows(self) -> tuple[tuple[int, RigCard], ...]:
        """Revisions whose marks are old for no other reason than that another arrow was on the bow, each with a card
        that has that arrow, as it was written down last."""
        wanted = frozenset(ALL_MARKS)
        told = []
        for number in range(1, len(self.history) + 1):
            touched = any(event.number > number and event.touches(wanted) for event in self.events)
            same = {key: self._same(number, key, wanted) for key in RETURNS}
            if touched or same.pop("arrow") or not all(same.values()):
                continue
            which = self._which_on("arrow", wanted)
            last = max(n for n, each in enumerate(which) if each == which[number - 1])
            told.append((number, self.history[last].card))
        return tuple(told)

    def set_aside(self, results: Iterable[str], revision: int) -> Event | None:
        """Why what was measured at a revision does not hold any more: the first event that set it aside; None
        where it holds."""
        wanted = frozenset(results)
        for event in self.events:
            if event.number > revision and event.touches(wanted):
                return event
        for key in RETURNS:
            if not self._same(revision, key, wanted):
                return next(event for event in reversed(self.events) if key in event.noticed)
        return None

    def arrows(self, results: Iterable[str]) -> tuple[int, ...]:
        """Which arrow was on the bow at each revision, numbered as they came, as far as these results go."""
        return tuple(self._which_on("arrow", frozenset(results)))

    def _same(self, revision: int, key: str, wanted: frozenset[str]) -> bool:
        """Whether arrow or head of a revision is the one that is on the bow now, as far as these results go."""
        if not wanted.intersection(CAUSES[key].makes_stale):
            return True
        which = self._which_on(key, wanted)
        return which[revision - 1] == which[-1]

    def _which_on(self, key: str, wanted: frozenset[str]) -> list[int]:
        """Which arrow, or head, was on at each revision, as far as these results go."""
        gone = frozenset(e.number for e in self.events if key in e.noticed and e.sets_aside(key, wanted))
        if (key, gone) not in self._reckoned:
            self._reckoned[key, gone] = self._which(key, gone)
        return self._reckoned[key, gone]

    def _which(self, key: str, gone: frozenset[int]) -> list[int]:
        """Which arrow, or head, was on the bow at each revision, numbered as they came: one that is written down
        otherwise stays the one it was, and one that comes back is known by how it was written down last.

        Args: gone, numbers of the revisions at which another one was put on.
        """
        what = RETURNS[key]
        shown = {event.number for event in self.events if key in event.noticed}
        known, which = [{what(self.history[0].card)}], [0]
        for number, (old, new) in enumerate(zip(self.history, self.history[1:]), start=2):
            before, value = known[which[-1]], what(new.card)
            if number in gone:
                which.append(next((n for n, ways in enumerate(known) if value in ways), len(known)))
                if which[-1] == len(known):
                    known.append({value})
                continue
            if number not in shown and what(old.card) != value:
                before.discard(what(old.card))
            before.add(value)
            which.append(which[-1])
        return which
