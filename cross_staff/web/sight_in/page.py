"""What the sight-in page shows: the instruction, the target, the judgement, the steps, the log."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import date
from secrets import token_hex
from typing import Any

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.sight_in.controls import SIDEWAYS
from cross_staff.core.sight_in.log import COUNTS, End, Move, RangeSession
from cross_staff.core.sight_in.station import (
    CARD,
    CONFIRM,
    MOVE,
    PLACE,
    SHOOT,
    SKIPPED,
    Act,
    SightInStepState,
)
from cross_staff.core.stations import reproof_step
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.page import RangePage, range_page
from cross_staff.web.forms.form import FormInput, whole
from cross_staff.web.forms.merge import seen_text
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared.housing_drawing import housing
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.words import gone_pin, on_target, whole_distance
from cross_staff.web.sight_in import words
from cross_staff.web.sight_in.drawing import FACES, target
from cross_staff.web.sight_in.form import head_texts

LOGGED = 60


def station_page(
    request: Request, rig: Rig, form: FormInput, status: int = 200, said: str = "", left_over: str = ""
) -> Response:
    """The station as it stands; `form` brings what was typed, and refused."""
    step = request.query_params.get("step", "")
    page = range_page(rig, step, request.query_params.get("end", ""), LOGGED)
    rig, draft = page.rig, page.draft
    units, proof = Units.of(rig.units), reproof_step(rig.state)
    act = rig.range.act if proof is None else Act(SHOOT)
    context = rig_context(rig, "sight_in", date.today()) | {
        "form": form,
        "now": words.now(rig, units, proof),
        "act": act,
        "proved": proof is not None and proof.code == "proved",
        "act_key": page.act_key,
        "kinds": {"shoot": SHOOT, "move": MOVE, "place": PLACE, "confirm": CONFIRM, "card": CARD},
        "asked": step,
        "gate_open": rig.checklist.gate_open,
        "wind": words.wind(page.drift_m, units),
        "usable": words.usable(rig.range, units),
        "settling": words.is_settling(act),
        "end": _end_fields(rig, form, act, draft, units),
        "end_asked": [each for each in form.conflicts if each.name in ("distance", "pin", "dial", "note")],
        "draft": draft,
        "pins": _pin_choices(rig, page.pins, draft, units),
        "dialled": rig.card.sight_kind.has_dial,
        "target": target(page),
        "shots_known": _shots(draft),
        "judged": words.judged(rig, act.at, units) if act.at is not None else None,
        "doubts": _doubts(page, units),
        "alone": "" if page.newest is None else words.alone(page.newest.group, page.newest.beside, units),
        "click_now": _click(rig),
        "day": None if page.day is None else words.day(page.day),
        "steps": [_step(rig, s, act, units) for s in rig.range.steps],
        "schools": _schools(page),
        "housing": housing(rig, [n for _, n in _named(rig, units)]),
        "crowded": _crowded(rig, units),
        "session_form": _part(form, session_texts(rig, rig.session, units), rig),
        "session_number": rig.session.number if rig.session else 0,
        "session_name": _session_name(rig.session),
        "session_key": token_hex(8),
        "counts": list(COUNTS.items()),
        "settings_form": _part(form, settings_texts(rig, units), rig),
        "faces": list(FACES.items()),
        "drives": [d.name for d in rig.range.estimate.controls] if rig.range.estimate else [],
        "log": _log(page, units),
        "said": said or _came_back(request),
        "left_over": left_over,
        "imports": page.imports,
    }
    return render(request, "sight_in/page.html", status, **context)


def _came_back(request: Request) -> str:
    taken, back = (whole(request.query_params.get(name, "")) for name in ("taken", "back"))
    if taken is not None:
        return f"{taken} shots were taken in; under “Shots out and in” they can be taken back together."
    return "" if back is None else f"{back} shots were taken back; the log keeps them."


def _shots(draft: End | None) -> str:
    """The shots of an end that is opened again, as the picture takes them."""
    shots = draft.shots if draft else ()
    rows = [
        {"key": s.key, "right": round(1000.0 * s.right_m, 1), "up": round(1000.0 * s.up_m, 1), "bad": s.called_bad}
        for s in shots
    ]
    return json.dumps(rows)


def _pin_choices(rig: Rig, pins: int, draft: End | None, units: Units) -> list[tuple[str, str]]:
    """The pins that can be aimed with; and the one that an opened end was shot with, where the card lost it."""
    choices = [(str(pin), words.pin_name(rig, pin, units)) for pin in range(pins)]
    if draft is not None and draft.pin >= pins:
        choices.append((str(draft.pin), gone_pin(draft.pin)))
    return choices


def _end_fields(rig: Rig, form: FormInput, act: Act, draft: End | None, units: Units) -> dict[str, str]:
    """The fields of the end: as typed, as it was kept, else what is asked for now."""
    if draft is not None:
        fields = {"key": draft.key, "seen": seen_text(head_texts(draft, units), rig.units)} | head_texts(draft, units)
    else:
        last = rig.range_log.ends[-1] if rig.range_log.ends else None
        end = rig.state.reproof.next_end if rig.state.reproof else None
        aim = end or act.aim
        dial_mm = end.mark_mm if end else act.dial_mm
        fields = {
            "key": token_hex(8),
            "seen": "",
            "distance": units.plain("distance", aim.ranged_m if aim else last.ranged_m if last else None, 1),
            "pin": str(aim.pin if aim else 0),
            "dial": units.plain("mark", dial_mm if dial_mm is not None else last.dial_mm if last else None, 1),
            "note": "",
        }
    fields["shots"] = ""
    if form.seen:
        fields["seen"] = form.seen
    return fields | {name: form.typed[name] for name in fields if name in form.typed}


def _named(rig: Rig, units: Units) -> list[tuple[int, str]]:
    estimate = rig.range.estimate
    if estimate is None:
        return []
    return [(pin, whole_distance(units, distance)) for pin, distance in enumerate(estimate.distances)]


def _doubts(page: RangePage, units: Units) -> dict[str, Any]:
    """What the arrows make one doubt."""
    rig, doubts = page.rig, page.doubts
    said = [] if doubts.surprise is None else [words.surprised(doubts.surprise)]
    if reversed_controls := words.reversed_words(doubts.reversed):
        said.append(reversed_controls)
    if doubts.trend is not None:
        said.append(words.trend(doubts.trend, units))
    question, other = None, doubts.other_pin
    if other is not None:
        likely = words.pin_name(rig, other.pin, units)
        noted = words.pin_name(rig, other.end.pin, units)
        question = {"key": other.end.key, "pin": other.pin, "likely": likely, "noted": noted,
                    "words": words.other_pin(rig, other, units)}  # fmt: skip
    suspect = _suspect(page, units) if rig.range.estimate is not None else None
    return {"pin": question, "suspect": suspect, "words": said}


def _suspect(page: RangePage, units: Units) -> dict[str, str] | None:
    """A shot of the newest end that lies far from the others."""
    end = page.rig.range_log.ends[-1] if page.rig.range_log.ends else None
    odd = page.odd.get(end.key, ()) if end is not None and not end.left_out else ()
    if end is None or not odd:
        return None
    shot = end.shots[odd[0]]
    return {"end": end.key, "shot": shot.key, "words": words.suspect(odd[0] + 1, shot.right_m, shot.up_m, units)}


def _click(rig: Rig) -> str:
    drum = next((c for c in rig.card.sight.controls if c.moves == "elevation" and c.per_click_mm), None)
    return "" if drum is None or drum.per_click_mm is None else f"{100.0 * drum.per_click_mm:.2f} by the card"


def _step(rig: Rig, state: SightInStepState, act: Act, units: Units) -> dict[str, Any]:
    step = state.step
    return {
        "key": step.key,
        "name": words.step_name(rig, step, state.aim, units),
        "state": state.state,
        "who": state.who,
        "said": f"step:{step.key}" in rig.range_log.said,
        "here": act.step is not None and act.step.key == step.key,
        "confirmed": state.state == SKIPPED,
        "missing": bool(state.missing) and not state.state,
        "done_when": words.filled(step.done_when, rig, state.aim, Act(CONFIRM, step=step), units),
        "enter": step.enter,
    }


def _schools(page: RangePage) -> list[dict[str, Any]]:
    estimate = page.rig.range.estimate
    chosen = estimate.chosen if estimate else {}
    return [{"question": q, "chosen": q.school(chosen.get(q.key, "")), "schools": q.schools} for q in page.questions]


def _crowded(rig: Rig, units: Units) -> str:
    """What will not fit into the housing, before it is shot."""
    beyond = rig.stack.beyond if rig.stack else ()
    if not beyond or rig.stack is None:
        return ""
    names = ", ".join(whole_distance(units, place.ranged_m) for place in beyond)
    far = rig.stack.farthest_that_fits_m
    until = "" if far is None else f" The farthest that fits is {whole_distance(units, far)}."
    return f"The pin for {names} will not fit into this housing.{until}"


def session_texts(rig: Rig, held: RangeSession | None, units: Units) -> dict[str, str]:
    """A session as text, field by field; what is usual while there is none."""
    return {
        "place": held.place if held else "",
        "light": held.light if held else "",
        "who": held.who if held else rig.card.archer,
        "crosswind": units.plain("wind", held.crosswind_mps) if held else "",
        "temperature": units.plain("temperature", held.temperature_c) if held else "",
        "counts": held.counts if held else "full",
        "session_note": held.note if held else "",
    }


def _session_name(session: RangeSession | None) -> str:
    if session is None:
        return "No session yet: the first arrow begins one."
    parts = [local_time(session.entered), session.place, session.light, session.build]
    return " · ".join(part for part in parts if part)


def settings_texts(rig: Rig, units: Units) -> dict[str, str]:
    """The circle and the face as text, field by field."""
    circle, face = rig.range_log.said.get("circle"), rig.range_log.said.get("face")
    return {
        "circle": units.plain("offset", circle.number) if circle else "",
        "face": face.choice if face else "dot",
        "face_size": units.plain("offset", face.number if face and face.number else 0.12),
    }


def _part(form: FormInput, texts: dict[str, str], rig: Rig) -> FormInput:
    """One of the page's forms: as typed where it was sent and refused, else as it is kept."""
    asked = tuple(each for each in form.conflicts if each.name in texts)
    shown = texts | {name: form.typed[name] for name in texts if name in form.typed}
    seen = form.seen if asked else seen_text(texts, rig.units)
    return replace(form, typed=shown, seen=seen, conflicts=asked)


def _end(page: RangePage, end: End, units: Units) -> dict[str, Any]:
    """An end for the log: what it was, where its middle came, and what is suspect of it."""
    rig, kept = page.rig, end.kept
    middle = ""
    if kept:
        right, up = (sum(getattr(s, name) for s in kept) / len(kept) for name in ("right_m", "up_m"))
        side, height = "R" if right > 0 else "L", "high" if up > 0 else "low"
        middle = f"{on_target(units, right)} {side}, {on_target(units, up)} {height}"
    bad = len(end.shots) - len(kept)
    session = rig.range_log.session(end.session)
    return {
        "kind": "end",
        "key": end.key,
        "order": end.order,
        "when": local_time(end.entered),
        "distance": "not ranged" if end.ranged_m is None else whole_distance(units, end.ranged_m),
        "pin": words.pin_name(rig, end.pin, units),
        "dial": "" if end.dial_mm is None else fixed(end.dial_mm, 1),
        "arrows": f"{len(kept)}{f' + {bad} bad' if bad else ''}",
        "middle": middle,
        "note": " · ".join(part for part in (session.place if session else "", end.note) if part),
        "state": _state(rig, end),
        "left_out": end.left_out,
        "removed": end.removed,
        "suspects": [
            (end.shots[i].key, _place(end.shots[i].right_m, end.shots[i].up_m)) for i in page.odd.get(end.key, ())
        ],
        "revision": end.revision,
    }


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
    if estimate is not None and not estimate.holds_for("home", end.revision):
        return f"old: revision {end.revision}"
    weight = rig.range_log.weight(end)
    return "" if weight == 1.0 else "counts half" if weight else "not counted"


def _moved(rig: Rig, move: Move, units: Units) -> dict[str, Any]:
    pin = f", {words.pin_name(rig, move.pin, units)}" if move.pin is not None else ""
    what = f"{move.drive}{pin}"
    if move.placed:
        what = words.pin_name(rig, move.pin or 0, units)
        much = "set to its predicted place"
    else:
        sideways = move.moves in SIDEWAYS
        way = ("right" if move.amount > 0 else "left") if sideways else ("up" if move.amount > 0 else "down")
        unit = move.unit if move.unit == "mm" or abs(move.amount) == 1.0 else f"{move.unit}s"
        much = f"{trimmed(abs(move.amount), 2)} {unit} {way}"
    row = {"kind": "move", "key": move.key, "when": local_time(move.entered), "what": what, "much": much}
    return row | {"order": move.order, "removed": move.removed}


def _log(page: RangePage, units: Units) -> list[dict[str, Any]]:
    """Ends and movements in one list, newest first."""
    rows = [_end(page, end, units) for end in page.rig.every_end[-LOGGED:]]
    rows += [_moved(page.rig, move, units) for move in page.rig.every_move[-LOGGED:]]
    return sorted(rows, key=lambda row: -row["order"])
