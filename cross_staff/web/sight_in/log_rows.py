"""The log of the range, newest first; the visits with where their arrows came in; the marks so far."""

from __future__ import annotations

from typing import Any

from cross_staff.core.sight_in.log import HOME, ORDERED, End, Move
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.page import RangePage
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.sight_in import words
from cross_staff.web.sight_in.asking import amount_way

LOGGED = 60
READ_IN = {"strip": "on the strip", "click": "clicks", "division": "on the scale"}


def _end(page: RangePage, end: End, units: Units) -> dict[str, Any]:
    """An end for the log: what it was, where its middle came, and what is suspect of it."""
    rig = page.rig
    bad = sum(shot.called_bad for shot in end.shots)
    weeded = len(end.shots) - bad - len(end.kept)
    session = rig.range_log.session(end.session)
    return {
        "kind": "end",
        "key": end.key,
        "order": end.order,
        "when": local_time(end.entered),
        "distance": "not ranged" if end.ranged_m is None else whole_distance(units, end.ranged_m),
        "pin": words.pin_name(rig, end.pin, units),
        "dial": dial_words(end, rig.card.sight_kind.dialled),
        "arrows": f"{end.arrows}{f' + {bad} bad' if bad else ''}{f' + {weeded} weeded out' if weeded else ''}",
        "middle": middle(end, units),
        "note": " · ".join(part for part in (session.place if session else "", end.note) if part),
        "state": _state(rig, end),
        "left_out": end.left_out,
        "removed": end.removed,
        "suspects": [
            (end.shots[i].key, _place(end.shots[i].right_m, end.shots[i].up_m)) for i in page.odd.get(end.key, ())
        ],
        "revision": end.revision,
    }


def middle(end: End, units: Units) -> str:
    """Where the arrows of an end came in the mean, in few words; a direction that was not looked at is left out."""
    right, up = end.middle
    sides = []
    if right is not None:
        sides.append(f"{on_target(units, right)} {'R' if right > 0 else 'L'}")
    if up is not None:
        sides.append(f"{on_target(units, up)} {'high' if up > 0 else 'low'}")
    return ", ".join(sides)


def dial_words(end: End, dialled: bool) -> str:
    """What the dial read at an end, as it was read; whether that was only ordered, or is not known."""
    if not dialled:
        return ""
    if end.dial_mm is None:
        return "home" if end.dial_from == HOME else "not read"
    way, _, text = end.dial_from.partition(":")
    if text:
        return f"{text} {READ_IN.get(way, '')}".strip()
    return f"{fixed(end.dial_mm, 1)}{' as ordered' if end.dial_from == ORDERED else ''}"


def _place(right_m: float, up_m: float) -> str:
    return f"{trimmed(1000.0 * right_m, 0)} right, {trimmed(1000.0 * up_m, 0)} up, mm"


def _state(rig: Rig, end: End) -> str:
    estimate = rig.range.estimate
    if end.removed:
        return "taken out"
    if end.left_out:
        return "left out"
    if end.ranged_m is None:
        return "kept, not counted: no distance"
    if rig.range.question is not None and end.key in rig.range.question.keys:
        return "asked about: not counted until that is answered"
    if estimate is not None and not estimate.holds_for("home", end.revision):
        return f"old: revision {end.revision}"
    weight = rig.range_log.weight(end)
    return "" if weight == 1.0 else "counts half" if weight else "not counted"


def _moved(rig: Rig, move: Move, units: Units) -> dict[str, Any]:
    pin = f", {words.pin_name(rig, move.pin, units)}" if move.pin is not None else ""
    what = f"{move.drive}{pin}"
    if not move.counted:
        much = "moved by eye, nobody counted"
    elif move.placed:
        what = words.pin_name(rig, move.pin or 0, units)
        much = "set to its predicted place"
    else:
        unit = "mm" if move.unit in ("mm", "step") else move.unit if abs(move.amount) == 1.0 else f"{move.unit}s"
        much = f"{trimmed(abs(move.amount), 2)} {unit} {amount_way(move.moves, move.amount)}"
    if move.before:
        much += ", noted afterwards"
    row = {"kind": "move", "key": move.key, "when": local_time(move.entered), "what": what, "much": much}
    return row | {"order": move.order, "removed": move.removed}


def log_rows(page: RangePage, units: Units) -> list[dict[str, Any]]:
    """Ends and movements in one list, newest first."""
    rows = [_end(page, end, units) for end in page.rig.every_end[-LOGGED:]]
    rows += [_moved(page.rig, move, units) for move in page.rig.every_move[-LOGGED:]]
    return sorted(rows, key=lambda row: -row["order"])


def visits(page: RangePage, units: Units) -> list[dict[str, Any]]:
    """Each visit to the range, newest first: when and where, and the middle of its arrows at every aim."""
    rig, told = page.rig, []
    for session in reversed(rig.range_log.sessions):
        ends = [e for e in rig.range_log.ends if e.session == session.number and e.arrows and not e.left_out]
        aims: dict[tuple[float | None, int], list[End]] = {}
        for end in ends:
            aims.setdefault((end.ranged_m, end.pin), []).append(end)
        rows = []
        for (ranged_m, pin), group in aims.items():
            at = "not ranged" if ranged_m is None else whole_distance(units, ranged_m)
            arrows = sum(end.arrows for end in group)
            rows.append(
                {"at": at, "pin": words.pin_name(rig, pin, units), "arrows": arrows, "middle": _together(group, units)}
            )
        name = " · ".join(part for part in (session.place, session.light, session.build) if part)
        if rows:
            told.append({"when": local_time(session.entered), "name": name, "rows": rows})
    return told


def _together(ends: list[End], units: Units) -> str:
    """The middle of several ends, each counted by its arrows."""
    sides = []
    for direction, names in ((0, ("R", "L")), (1, ("high", "low"))):
        known = [(end.middle[direction], end.arrows) for end in ends if end.middle[direction] is not None]
        if known:
            mean = sum((value or 0.0) * count for value, count in known) / sum(count for _, count in known)
            sides.append(f"{on_target(units, mean)} {names[0] if mean > 0 else names[1]}")
    return ", ".join(sides)


def marks_words(page: RangePage, units: Units) -> list[str]:
    """The marks so far, "60: 41.8 +- 0.3", each end centred by the flight."""
    several = len({mark.pin for mark in page.marks}) > 1
    told = []
    for mark in page.marks:
        pin = f" ({words.pin_name(page.rig, mark.pin, units)})" if several else ""
        at = whole_distance(units, mark.ranged_m)
        told.append(f"{at}{pin}: {fixed(mark.mark_mm, 1)} ± {fixed(1.96 * mark.sd_mm, 1)}")
    return told
