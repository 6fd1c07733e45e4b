"""What the sight-in page shows: the instruction, the target, the judgement, the steps, the log."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from secrets import token_hex
from typing import Any

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.rig.procedure import CONFIRM, PLACE, SHOOT
from cross_staff.core.sight_in.acts import ASK, CARD, ENOUGH, MOVE, REST, SKIPPED, Act, SightInStepState
from cross_staff.core.sight_in.log import COUNTS, HOME, ORDERED, End, RangeSession
from cross_staff.core.sight_in.readings import READ_CLICK, READ_DIVISION, READ_MM, READ_STRIP
from cross_staff.core.stations import reproof_step
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.page import RangePage, range_page
from cross_staff.web.forms.form import FormInput, whole
from cross_staff.web.forms.merge import seen_text
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.housing_drawing import housing
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.words import gone_pin, whole_distance
from cross_staff.web.sight_in import asking, judged, words
from cross_staff.web.sight_in.drawing import FACES, target
from cross_staff.web.sight_in.form import head_texts
from cross_staff.web.sight_in.log_rows import LOGGED, log_rows, marks_words, visits
from cross_staff.web.sight_in.shots_csv import WrongLine

MOST_WRONG = 60

HEAD_FIELDS = (
    "distance", "pin", "dial", "dial_as", "stands", "note", "line_arrows", "line_up", "line_up_way", "line_right",
    "line_right_way",
)  # fmt: skip


def station_page(
    request: Request,
    rig: Rig,
    form: FormInput,
    status: int = 200,
    said: str = "",
    left_over: str = "",
    wrong_lines: Sequence[WrongLine] = (),
    step: str = "",
) -> Response:
    """The station as it stands; `form` brings what was typed, and refused; `step`, the one that was refused."""
    step = step or request.query_params.get("step", "")
    page = range_page(rig, step, request.query_params.get("end", ""), LOGGED)
    rig, draft = page.rig, page.draft
    units, proof = Units.of(rig.units), reproof_step(rig.state)
    act = rig.range.act if proof is None else Act(SHOOT)
    stand = asking.stand_words(rig, page.stand, units)
    context = rig_context(rig, "sight_in", date.today()) | {
        "form": form,
        "now": words.now(rig, units, proof),
        "act": act,
        "proved": proof is not None and proof.code == "proved",
        "act_key": page.act_key,
        "kinds": {
            "shoot": SHOOT,
            "move": MOVE,
            "place": PLACE,
            "confirm": CONFIRM,
            "card": CARD,
            "ask": ASK,
            "rest": REST,
        },
        "asked": step,
        "gate_open": rig.checklist.gate_open,
        "wind": words.wind(page.drift_m, units),
        "usable": judged.usable(rig.range, units),
        "display_asks": _display_asks(page, units) if act.step is not None and act.step.key == "figures" else [],
        "shot_here": act.at is not None and bool(act.at.standing.arrows),
        "end": _end_fields(rig, form, act, draft, units),
        "end_asked": [each for each in form.conflicts if each.name in HEAD_FIELDS],
        "draft": draft,
        "pins": _pin_choices(rig, page.pins, draft, units),
        "dialled": rig.card.sight_kind.dialled,
        "target": target(page),
        "shots_known": _shots(draft),
        "judged": judged.judged(rig, act.at, units) if act.at is not None else None,
        "doubts": _doubts(page, units),
        "alone": "" if page.newest is None else judged.alone(page.newest.group, page.newest.beside, units),
        "click_now": _click(rig),
        "day": None
        if page.day is None or (rig.session is not None and rig.session.weight < 1.0)
        else judged.day(page.day),
        "steps": [_step(rig, s, act, units) for s in rig.range.steps],
        "schools": _schools(page),
        "housing": housing(rig, _named(rig, units)),
        "crowded": _crowded(rig, units),
        "session_form": _part(form, session_texts(rig, rig.session, units), rig),
        "session_number": rig.session.number if rig.session else 0,
        "session_name": _session_name(rig.session),
        "session_key": token_hex(8),
        "counts": list(COUNTS.items()),
        "settings_form": _part(form, settings_texts(rig, units), rig),
        "faces": list(FACES.items()),
        "drives": [d.name for d in rig.range.estimate.controls] if rig.range.estimate else [],
        "log": log_rows(page, units),
        "visits": visits(page, units),
        "marks": marks_words(page, units),
        "stand": stand,
        "stands_at": asking.unknown_words(stand),
        "asks": _asks(rig, units),
        "order": page.order,
        "reads_as": _reads_as(page),
        "before_ends": _before_ends(rig, units),
        "moving": _moving(request, rig, form),
        "shafts": page.shafts,
        "units_label": units.label("offset"),
        "said": said or _came_back(request),
        "left_over": left_over,
        "wrong_lines": wrong_lines[:MOST_WRONG],
        "more_wrong": max(len(wrong_lines) - MOST_WRONG, 0),
        "imports": page.imports,
    }
    return render(request, "sight_in/page.html", status, **context)


def _came_back(request: Request) -> str:
    taken, back, known = (whole(request.query_params.get(name, "")) for name in ("taken", "back", "known"))
    if taken is not None:
        here = f" {known} {'was' if known == 1 else 'were'} here already." if known else ""
        if not taken:
            return f"Nothing new was in it.{here}"
        come = f"{taken} shot{'s were' if taken != 1 else ' was'} taken in"
        return f"{come}; under “Shots out and in” they can be taken back together.{here}"
    return "" if back is None else f"{back} shots were taken back; the log keeps them."


def _shots(draft: End | None) -> str:
    """The shots of an end that is opened again, as the picture takes them."""
    shots = draft.shots if draft else ()
    rows = [
        {
            "key": s.key,
            "right": round(1000.0 * s.right_m, 1),
            "up": round(1000.0 * s.up_m, 1),
            "bad": s.called_bad,
            "shaft": s.shaft,
        }  # fmt: skip
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
        kept = head_texts(draft, units)
        fields = {"key": draft.key, "seen": seen_text(kept, rig.units)} | kept
        fields["dial_ordered"] = kept["dial"] if draft.dial_from == ORDERED else ""
    else:
        last = rig.range_log.ends[-1] if rig.range_log.ends else None
        end = rig.state.reproof.next_end if rig.state.reproof else None
        aim = end or act.aim
        dial = units.plain("mark", end.mark_mm if end else act.dial_mm, 1)
        fields = {
            "key": token_hex(8),
            "seen": "",
            "distance": _typed_distance(units, aim.ranged_m if aim else last.ranged_m if last else None),
            "pin": str(aim.pin if aim else 0),
            "dial": dial,  # what is ordered; never what was read at another end
            "dial_ordered": dial,
            "stands": HOME if act.at_home else "",
            "note": "",
        }
    fields = {"dial_as": READ_MM.value, "dial_ordered": "", "line_arrows": "", "line_up": "", "line_up_way": "high",
              "line_right": "", "line_right_way": "right"} | fields  # fmt: skip
    fields["shots"] = ""
    if form.seen:
        fields["seen"] = form.seen
    return fields | {name: form.typed[name] for name in fields if name in form.typed}


def _typed_distance(units: Units, ranged_m: float | None) -> str:
    return "" if ranged_m is None else units.as_typed("distance", ranged_m)


def _named(rig: Rig, units: Units) -> list[str]:
    """The pins by what they are for: beside the drawing there is room for no more."""
    distances = rig.range.estimate.distances if rig.range.estimate else ()
    return [whole_distance(units, each) for each in distances]


def _doubts(page: RangePage, units: Units) -> dict[str, Any]:
    """What the arrows make one doubt."""
    rig, doubts = page.rig, page.doubts
    said = []
    if reversed_controls := judged.reversed_words(doubts.reversed):
        said.append(reversed_controls)
    if doubts.trend is not None:
        said.append(judged.trend(doubts.trend, units))
    far = max((end.ranged_m or 0.0 for end in rig.range_log.ends), default=18.0)
    apart = [asking.shaft_words(shaft, units, far) for shaft in doubts.apart]
    wider = "" if doubts.wider is None else asking.wider_words(doubts.wider)
    return {"suspect": _suspect(rig, units), "words": said, "apart": apart, "wider": wider}


def _asks(rig: Rig, units: Units) -> dict[str, Any]:
    """What is asked before anything is ordered: of the newest ends, or of where a control stands."""
    act = rig.range.act
    return {
        "question": None if act.question is None else asking.question_words(rig, act.question, units),
        "unread": "" if act.unread is None else act.unread.key,
        "where": None if act.where is None else asking.where_words(act.where),
    }


def _display_asks(page: RangePage, units: Units) -> list[tuple[str, str]]:
    """The lengths that this display asks for, by its own names; what the card does not tell is said."""
    told = page.display_asks
    return [
        (a.name, "not on the card yet" if a.length_m is None else units.show("length", a.length_m, 1)) for a in told
    ]


def _reads_as(page: RangePage) -> list[tuple[str, str]]:
    """The ways in which the dial of this sight can be read."""
    unit = "yd" if page.rig.card.tape.unit_m < 1.0 else "m"
    names = {READ_MM: "mm", READ_DIVISION: "divisions", READ_CLICK: "turns + clicks", READ_STRIP: f"strip, {unit}"}
    return [(way.value, names[way]) for way in page.reads_as]


def _before_ends(rig: Rig, units: Units) -> list[tuple[str, str]]:
    """The ends before which something may have been moved, the newest first."""
    told = [("", "now, after the last end")]
    for end in reversed(rig.range_log.ends[-12:]):
        at = "not ranged" if end.ranged_m is None else whole_distance(units, end.ranged_m)
        told.append((end.key, f"before the end at {at}, {local_time(end.entered)}"))
    return told


def _moving(request: Request, rig: Rig, form: FormInput) -> dict[str, str]:
    """The fields of a movement of one's own: as typed, those of one that is mended, or empty."""
    key = request.query_params.get("move", "")
    held = next((m for m in rig.every_move if m.key == key and not m.removed), None)
    fields = {"move_key": f"own-{token_hex(8)}", "drive": "", "amount": "", "moved_pin": "0", "before": ""}
    if held is not None:
        much = trimmed(held.amount, 2) if held.counted else ""
        fields = {"move_key": held.key, "drive": held.drive, "amount": much, "moved_pin": str(held.pin or 0),
                  "before": held.before}  # fmt: skip
    return fields | {name: form.typed[name] for name in fields if name in form.typed}


def _suspect(rig: Rig, units: Units) -> dict[str, str] | None:
    """A shot that lies far from the others of its end, and of which nobody said yet whether it counts."""
    if rig.range.act.odd is None:
        return None
    end, index = rig.range.act.odd
    shot = end.shots[index]
    return {"end": end.key, "shot": shot.key, "words": judged.suspect(end, index + 1, units)}


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
        "enough": state.state == ENOUGH,
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
        "circle_is": (circle.choice or "angle") if circle else "angle",
        "face": face.choice if face else "dot",
        "face_size": units.plain("offset", face.number if face and face.number else 0.12),
    }


def _part(form: FormInput, texts: dict[str, str], rig: Rig) -> FormInput:
    """One of the page's forms: as typed where it was sent and refused, else as it is kept."""
    asked = tuple(each for each in form.conflicts if each.name in texts)
    shown = texts | {name: form.typed[name] for name in texts if name in form.typed}
    seen = form.seen if asked else seen_text(texts, rig.units)
    return replace(form, typed=shown, seen=seen, conflicts=asked)
