"""The tables of the level page: axes as measured, methods, tools, costs, looks that look wrong, the log."""

from __future__ import annotations

import math
from typing import Any
from urllib.parse import urlencode

from cross_staff.core.level.axis import AxisState, moves_freely, screw_of
from cross_staff.core.level.chain import Amount
from cross_staff.core.level.lines import VIAL_KIND
from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.methods import BY_KEY, CLIP, PLACES, WANDER
from cross_staff.core.level.station import LevelState
from cross_staff.core.level.units import kind_beside
from cross_staff.core.rig.card import INSTRUMENT_KINDS, SEATS
from cross_staff.services.level.page import LevelPage
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words
from cross_staff.web.level.drawing import bar
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.moments import local_time


def row(state: AxisState, page: LevelPage) -> dict[str, Any]:
    """An axis as measured, for the column beside the vials."""
    level, looks = page.rig.level, page.looks[state.axis]
    unread = "set aside: read it again" if state.axis in level.aside else "not read yet"
    seen = state.seen
    unseen = seen is not None and state.now is not None and state.now.sd > 1.3 * seen.sd
    return {
        "axis": state.axis,
        "name": words.NAMES[state.axis].split(" ")[0].capitalize(),
        "value": words.amount(state, state.now.value) if state.now else _end_words(state),
        "sd": words.spread(state, state.now.sd) if state.now else "" if state.beyond else unread,
        "seen": words.spread(state, seen.sd) if unseen and seen else "",
        "standing": words.STANDINGS[state.standing] if state.now or state.accepted else "open",
        "good": state.settled,
        "found": found_words(state),
        "bar": bar(state),
        "tolerance": words.within(state, state.tolerance),
        "usual": state.axis in level.usual,
        "asked": state.axis in level.required,
        "accepted": state.accepted,
        "far": state.far_look is not None,
        "yaw": _yaw(state, page),
        "more_looks": looks.more,
        "cannot_prove": state.now is not None and looks.provable > state.tolerance,
        "provable": words.within(state, looks.provable),
        "by_eye": _uncounted(state, page),
    }


def _uncounted(state: AxisState, page: LevelPage) -> str:
    """How often it was moved without a count; empty where it never was."""
    if not state.by_eye:
        return ""
    times = "once" if state.by_eye == 1 else f"{state.by_eye} times"
    free = moves_freely(page.rig.card, state.axis)
    return f"moved {times} by its bubble, not counted" if free else f"turned {times} by eye, not counted"


def _end_words(state: AxisState) -> str:
    """An axis whose bubble lies at the end of its glass; empty for any other."""
    if state.beyond is None:
        return ""
    return f"beyond {words.amount(state, state.beyond.side * state.beyond.least)}"


def found_words(state: AxisState) -> str:
    """How an axis was found; empty before it was read."""
    if state.as_found is not None:
        return words.amount(state, state.as_found.value)
    if state.found_beyond:
        return f"beyond its glass, {'clockwise' if state.found_beyond > 0 else 'anticlockwise'}"
    return "not read before it was turned" if state.turns or state.by_eye else ""


def _yaw(state: AxisState, page: LevelPage) -> str:
    """How unsure the reference's own yaw leaves the third axis; empty where it does not."""
    if state.axis != "third" or state.now is None or BY_KEY[state.method].reads != CLIP:
        return ""
    sd = page.rig.card.level.yaw_of(state.seat)[1]
    return f"± {math.degrees(1.96 * sd):.1f}°" if sd else ""


def squared(page: LevelPage, units: Units) -> list[str]:
    """What is known of a third axis that is as square as its tool can tell, in sentences."""
    third = page.rig.level.axes["third"]
    if third.seen is None or third.now is None:
        return []
    label = words.LABELS[page.rig.level.label]
    said = [f"{label[0].upper()}{label[1:]}, {words.spread(third, third.seen.sd)}°."]
    sees = _unseen(third, page)
    cost = f", up to {sentences.on_target(units, page.unseen_m)} at your farthest and steepest" if page.unseen_m else ""
    said.append(f"{sees} not seen: {words.spread(third, third.now.sd)}°{cost}.")
    limit = page.rig.card.level.tolerance_m
    if limit is not None and third.chance is not None:
        chance = min(round(20.0 * third.chance), 19)
        said.append(f"Within {sentences.on_target(units, limit)} about {chance} times in 20.")
    return said


def _unseen(third: AxisState, page: LevelPage) -> str:
    """What the way in use does not see of the third axis, and what of its seat is not proved."""
    method = BY_KEY[third.method]
    unseen = "full draw" if not method.full_draw else _BLIND.get(third.method, "the archer's hand")
    yaw = method.reads == CLIP and page.rig.card.level.yaw_of(third.seat)[1] > 0.0
    if yaw:
        unseen += " and the seat's yaw"
    return unseen[0].upper() + unseen[1:]


_BLIND = {"board_riser": "the riser against the string", "shooting": "a slope's own grip and wind"}


def needed_tools(page: LevelPage, units: Units) -> dict[str, Any] | None:
    """Which way of reading this archer's slopes need, the sharpest first; None where nobody asks for the axis."""
    third = page.rig.level.axes["third"]
    if "third" not in page.rig.level.required:
        return {"say": "Level ground alone is shot: the third axis is not asked for.", "rows": []}
    enough = {None: "", True: "enough", False: "not enough"}
    rows = [(t.method.name, f"± {math.degrees(t.provable_rad):.1f}°", enough[t.enough]) for t in page.tools]
    if page.tools[0].enough is None:
        say = "Which way is sharp enough is said once the card, and what it may cost, are complete."
        return {"say": say, "rows": rows}
    say = f"It may be off {math.degrees(third.tolerance):.1f}°."
    say += (
        f" The easiest way that proves it: {page.easiest.method.name}."
        if page.easiest
        else " No way of reading proves that by itself: two ways together, or allow more."
    )
    if page.vise_to_m and not any(tool.enough and not tool.method.full_draw for tool in page.tools):
        say += f" At rest in the vise is enough to {sentences.whole_distance(units, page.vise_to_m)}."
    return {"say": say, "rows": rows}


def cost_table(page: LevelPage, units: Units) -> dict[str, Any] | None:
    """What is left of the axes costs, sideways; None while they cannot be said in degrees."""
    costs, limit = page.costs, page.rig.card.level.tolerance_m
    if costs is None:
        return None
    return {
        "distances": [sentences.whole_distance(units, d) for d in costs.distances_m],
        "rows": [(words.tilt(r.slope_rad), [cost_cell(units, v, limit) for v in r.right_m]) for r in costs.rows],
    }


def cost_cell(units: Units, right: float | None, limit: float | None) -> tuple[str, bool]:
    """A sideways shift in words, and whether it is more than it may be."""
    if right is None:
        return "out of reach", True
    shown = sentences.on_target(units, right)
    side = "" if abs(right) < 0.0005 else " R" if right > 0 else " L"
    return f"{shown}{side}", limit is not None and abs(right) > limit


STRAIGHTEDGE_AGREES_DIV = 0.3
_SLIP_WORDS = {
    "sight_sign": "was its vial's bubble written to the wrong side?",
    "reference_sign": "was its reference written to the wrong side?",
    "both_signs": "were both bubbles written to the wrong side?",
    "pitch_sign": "has its tilt the wrong sign?",
    "wrong": "the others do not expect it.",
}


def slip_rows(state: LevelState) -> list[dict[str, Any]]:
    """Readings that look wrong, with what likely happened."""
    return [
        {
            "id": slip.entry.reading_id,
            "slip": slip.slip,
            "words": f"The reading “{words.bubble(slip.entry.vial_div)}” ({words.NAMES[slip.entry.axis]}, "
            f"{words.tilt(slip.entry.pitch_rad)}): {_SLIP_WORDS[slip.slip]}",
        }
        for slip in state.slips
    ]


def twist_words(twist: Amount | None) -> str:
    """Full draw less at rest."""
    if twist is None:
        return ""
    size, sure = abs(math.degrees(twist.value)), math.degrees(1.96 * twist.sd)
    return f"This riser twists {size:.1f}° ± {sure:.1f} when drawn; full draw decides."


def matched_words(state: LevelState) -> str:
    """How the reference was matched where it sits now; empty where it was not."""
    seating = state.log.seatings[-1] if state.log.seatings else None
    if seating is None or not seating.matches:
        return ""
    match, _ = seating.matches[-1]
    times = "" if len(seating.matches) == 1 else f", {len(seating.matches)} times"
    where = SEATS[seating.seat] if seating.seat else "its seat"
    beside = f"string level {words.bubble(match.string_div)}, reference {words.bubble(match.reference_div)}"
    return f"The reference ({where}) was matched{times}: {beside}."


def by_method(state: LevelState) -> list[tuple[str, str, str]]:
    """The third axis as each method has it that was read since the last turn."""
    third = state.axes["third"]
    return [
        (BY_KEY[key].name, words.amount(third, seen.value), words.spread(third, seen.sd))
        for key, seen in state.by_method.items()
    ]


def overdue_words(page: LevelPage) -> list[str]:
    """Levels whose reversal is due again."""
    return [
        f"The {INSTRUMENT_KINDS[kind]} was proved {days} days ago: turn it end for end again."
        for kind, days in page.overdue
    ]


def log_rows(rig: Rig, units: Units) -> list[dict[str, Any]]:
    """Every entry, newest first: looks, turns, groups on a slope, and those that were taken back."""
    undone = {r.undoes for r in rig.level_log if r.undoes is not None}
    rows = []
    for r in reversed(rig.level_log):
        method = BY_KEY[r.method]
        after = f"{words.turned_words(r.turns, screw_of(rig.card, r.axis))}" if r.turn or r.turns else ""
        shot, wandered = r.right_m is not None, method.reads == WANDER
        read = not r.turn and not shot
        side = "" if not r.right_m else " right" if r.right_m > 0 else " left"
        group = f"{sentences.on_target(units, abs(r.right_m or 0.0))}{side}, {r.arrows} arrows" if shot else ""
        if wandered:
            wander, travel = (units.show("length", abs(amount or 0.0)) for amount in (r.right_m, r.distance_m))
            group = f"{wander}{side} over {travel}"
        rows.append(
            {
                "id": r.reading_id,
                "when": local_time(r.entered),
                "what": _what(r),
                "tilt": "" if r.turn else words.tilt(r.pitch_rad),
                "reference": words.bubble(r.reference_div) if read and _beside(r.axis, r.method) else "",
                "vial": group if shot else "" if r.turn else words.seen(r.vial_div, r.vial_end),
                "seat": f"{SEATS[r.seat]}{', put on again' if r.reseated else ''}" if r.seat else "",
                "after": after,
                "state": "taken back" if r.undoes is not None else "" if r.locked else "loose",
                "note": " · ".join(filter(None, [r.who, r.note])),
                "key": r.key,
                "photo": r.photo_id,
                "undo": r.undoes is None and r.reading_id not in undone,
                "turn": r.turn,
            }
        )
    return rows


def _what(entry: LevelReading) -> str:
    """What an entry is: the axis, turned, or how and where it was read."""
    where = f", {PLACES[entry.place]}" if entry.place else ""
    return f"{words.NAMES[entry.axis]} · {'turned' if entry.turn else BY_KEY[entry.method].name}{where}"


def settles(page: LevelPage, axis: str) -> dict[str, Any] | None:
    """How long the bubble in hand takes to rest: as the setup says, else as looks told; None where nobody knows."""
    kind = VIAL_KIND[axis]
    written = getattr(page.rig.card.level, kind).settle_s
    learned = page.settles.get(kind)
    if written is not None:
        return {"seconds": written, "words": f"settles in {written:.0f} s"}
    if learned is None:
        return None
    return {
        "seconds": learned.seconds,
        "words": f"settles in {learned.seconds:.0f} s, learned from {learned.looks} looks",
    }


def slope_words(page: LevelPage, units: Units) -> str:
    """Where to stand to shoot the third axis in, and how many arrows tell it."""
    at = page.slopes
    if at is None:
        return "Where to stand, and how many arrows, is said once the card, and what it may cost, are complete."
    degrees = f"{math.degrees(at.slope_rad):.0f}°"
    far = sentences.whole_distance(units, at.distance_m)
    where = f"Stand where the target is at {far}, {degrees} uphill, then as much downhill"
    tells = f"{at.arrows} arrows each way tell ± {math.degrees(at.tells_rad):.1f}°"
    enough = "" if at.enough else ", which does not prove it by itself: a second day adds to it"
    return f"{where}: {tells}{enough}. A group on the level, 0°, takes the windage out."


def ends_of_range(page: LevelPage, units: Units) -> list[tuple[str, str]]:
    """The newest ends of the range as groups to take: their query, and their words."""
    rows = []
    for end in page.ends:
        right = end.middle[0] or 0.0
        query = {
            "axis": "third", "method": "shooting", "distance": units.plain("distance", end.ranged_m),
            "right": units.plain("offset", right), "arrows": str(end.arrows), "pitch": "",
        }  # fmt: skip
        side = "" if abs(right) < 0.0005 else " right" if right > 0 else " left"
        at = sentences.whole_distance(units, end.ranged_m or 0.0)
        rows.append(
            (
                urlencode(query),
                f"{local_time(end.entered)}: {end.arrows} at {at}, {sentences.on_target(units, right)}{side}",
            )
        )
    return rows


def bend_words(level: LevelState) -> str:
    """That the rail is bent or worn; empty where its ends agree, or were not both read."""
    bend, first = level.bend, level.axes["first"]
    if bend is None or abs(bend.value) <= 1.96 * bend.sd:
        return ""
    apart = words.amount(first, abs(bend.value)).lstrip("+")
    side = "right" if bend.value > 0.0 else "left"
    return (
        f"The rail is bent or worn: near its top it leans {apart} more to the {side} than near its bottom, "
        f"{words.spread(first, bend.sd)}. Look for play and wear; the axis is the middle of both."
    )


def straightedge_words(level: LevelState) -> str:
    """What a straightedge over the limb pockets showed; empty where none was laid on."""
    entry = level.straightedge
    if entry is None or entry.number is None:
        return ""
    stands = words.bubble(entry.number)
    agrees = abs(entry.number) <= STRAIGHTEDGE_AGREES_DIV
    said = "it agrees with the string" if agrees else "it does not agree: edges are not always parallel to the string"
    return f"Straightedge over the limb pockets: {stands}; {said}. The string decides."


def _beside(axis: str, method: str) -> bool:
    """Whether anything was read beside the vial."""
    return kind_beside(axis, method) != ""
