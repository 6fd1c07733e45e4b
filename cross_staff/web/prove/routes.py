"""The prove page: the line of a visit, the verdict, how it is mended, the log."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.core.prove.chain import NEXT_ARROWS, Chain
from cross_staff.core.prove.log import ProofLine
from cross_staff.services.prove import page as pages
from cross_staff.services.prove import record as service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import words
from cross_staff.web.prove.drawing import chart_of
from cross_staff.web.prove.form import blank, read_line, texts_of
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
QUICK_ARROWS = ("3", "4", "6")
_NOT_MOVED = "By the lines as they are now nothing moved: look again."
BACK = ("", "/knocked", "/drift")


def ways_between(here: str) -> dict[str, Any]:
    """The pages of the station, and the one that is shown."""
    return {"pages_of_prove": words.PAGES, "page_here": here, "page_name": dict(words.PAGES)[here]}


def line_to(rig_id: int) -> dict[str, Any]:
    """Where the form of a line is sent."""
    return {"line_action": f"/rigs/{rig_id}/prove"}


@router.get("/rigs/{rig_id}/prove")
def prove_page(request: Request, rig_id: int, line: str = "", said: str = "") -> Response:
    """The tape that is on the sight and its lines; `line` opens one again. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    held = _held(rig, line) if line else None
    if line and held is None:
        raise NotFound("there is no such line")
    return _page(request, rig, FormInput(fields_of(rig, held), units), said=_SAID.get(said, ""))


_SAID = {
    "kept": "Kept.",
    "laid": "From now on lines count for this tape.",
    "mended": "Written down. A new chain of lines begins: the first ones tell whether it sits.",
    "split": "The lines since count by themselves; the others are a chain of their own.",
    "back": "Taken back. It stays in the log below, and can be put back.",
}


def _held(rig: Rig, key: str) -> ProofLine | None:
    return next((line for line in rig.prove.lines if line.key == key), None)


def fields_of(rig: Rig, held: ProofLine | None) -> dict[str, str]:
    """The fields of the line's form."""
    units = Units.of(rig.units)
    if held is not None:
        return texts_of(held, units)
    verdict = rig.prove.verdict
    following = verdict.next if verdict is not None else None
    return blank(units, date.today(), following.distance_m if following else None, NEXT_ARROWS)


def _nothing(rig: Rig) -> dict[str, str]:
    """Every field of the line, empty: a form may leave some out."""
    return dict.fromkeys(fields_of(rig, None), "")


@router.post("/rigs/{rig_id}/prove")
def save_line(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep a line, new or changed. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(_nothing(rig) | typed, Units.of(rig.units))
    held, current = _held(rig, typed.get("key", "")), rig.prove.current
    tape = current.tape.code if current is not None else ""
    line = read_line(form, datetime.now(UTC), held, tape, held.label if held else "")
    if line is not None:
        with form.refusals({"ranged": "distance"}):
            kept = service.enter(database, rig_id, line, whole(typed.get("seen", "")) or 0)
            if kept.refused:
                return _page(request, rig, _met(form, kept.line), status=409)
    if form.errors:
        return _page(request, rig, form, status=422)
    back = typed.get("back", "")
    if back in BACK[1:]:
        return RedirectResponse(f"/rigs/{rig_id}/prove{back}", 303)
    return RedirectResponse(f"/rigs/{rig_id}/prove?said=kept", 303)


def _met(form: FormInput, theirs: ProofLine) -> FormInput:
    """A line that somebody else changed meanwhile: what was typed stays, beside what holds."""
    became = "taken back" if theirs.removed else f"changed to: {words.line_words(theirs, form.units)}"
    form.errors["distance"] = (
        f"this line was meanwhile, in another window, {became}. What you typed is still here: save again to have it so"
    )
    form.typed = {**form.typed, "seen": str(theirs.entry_id)}
    return form


@router.post("/rigs/{rig_id}/prove/line/{key}/undo")
def undo(request: Request, rig_id: int, key: str) -> Response:
    """Take a line back. Raises NotFound."""
    service.take_back(request.app.state.database, rig_id, key, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/prove?said=back", 303)


@router.post("/rigs/{rig_id}/prove/line/{key}/again")
def again(request: Request, rig_id: int, key: str) -> Response:
    """Put a line back that was taken back. Raises NotFound."""
    service.take_back(request.app.state.database, rig_id, key, datetime.now(UTC), again=True)
    return RedirectResponse(f"/rigs/{rig_id}/prove?said=kept", 303)


@router.post("/rigs/{rig_id}/prove/tape")
def lay(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Say which tape is on the sight. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(fields_of(rig, None) | typed, Units.of(rig.units))
    with form.refusals():
        service.lay(database, rig_id, typed.get("tape", ""), datetime.now(UTC))
    if form.errors:
        return _page(request, rig, form, status=422)
    return RedirectResponse(f"/rigs/{rig_id}/prove?said=laid", 303)


@router.post("/rigs/{rig_id}/prove/mended")
def mended(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The indicator was moved, or the strip laid on anew, as the lines asked: one revision; nothing is written where
    the tape was moved meanwhile. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(fields_of(rig, None) | typed, Units.of(rig.units))
    current = rig.prove.current
    shift = pages.mending(rig, current)[0] if current is not None else None
    way = typed.get("way", "")
    why = words.mended_words(shift, way)
    with form.refusals():
        laying = whole(typed.get("laying", "")) or 0
        try:
            service.mend(database, rig_id, way, laying, why, datetime.now(UTC))
        except NotFound as error:
            return _page(request, open_rig(database, rig_id), form, f"{str(error).capitalize()}.", 409)
    if form.errors:
        return _page(request, rig, form, status=422)
    return RedirectResponse(f"/rigs/{rig_id}/prove?said=mended", 303)


@router.post("/rigs/{rig_id}/prove/split")
def split(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The lines since something moved count by themselves. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    verdict = rig.prove.verdict
    if verdict is None or not verdict.moved_after:
        return _page(request, rig, FormInput(fields_of(rig, None), Units.of(rig.units)), _NOT_MOVED, 409)
    after, laying = date.fromisoformat(verdict.moved_after), whole(typed.get("laying", "")) or 0
    service.split(database, rig_id, after, laying, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/prove?said=split", 303)


@router.post("/rigs/{rig_id}/prove/take-over")
def take_over(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The lines become marks of the tape, beside those that there are, or instead of them. Raises NotFound."""
    database = request.app.state.database
    instead = typed.get("way") == "instead"
    service.take_over(database, open_rig(database, rig_id), datetime.now(UTC), instead)
    return RedirectResponse(f"/rigs/{rig_id}/tape", 303)


def _page(request: Request, rig: Rig, form: FormInput, said: str = "", status: int = 200) -> Response:
    units, state = Units.of(rig.units), rig.prove
    context = rig_context(rig, "prove", date.today()) | ways_between("")
    context |= {
        "form": form,
        "said": said,
        "opened": form.typed.get("seen", "0") not in ("", "0"),
        "stakes": stakes_of(rig, units),
        "quick_arrows": QUICK_ARROWS,
        **line_to(rig.rig_id),
        "tapes": [(tape.code, _tape_words(rig, tape.code, tape.strip.name)) for tape in state.tapes],
        "tape_on": state.current.tape.code if state.current else "",
        "asks_which": state.asks_which,
        "other_arrow": state.other_arrow,
        "dialled": rig.card.sight_kind.dialled,
        "told": _told(rig, state.current, units) if state.current else None,
        "others": [_other(rig, chain, units) for chain in state.others],
        "log": _log(rig, units),
        "back": "",
        "gone": _gone(rig, units),
        "caution": words.CAUTION_RANGE,
    }
    return render(request, "prove/page.html", status, **context)


def stakes_of(rig: Rig, units: Units) -> list[str]:
    """Distances to tap."""
    current = rig.prove.current
    wanted = current.wanted_m if current is not None else tuple(sorted(rig.card.goals.distances_m))
    return [units.as_typed("distance", each) for each in wanted]


def _tape_words(rig: Rig, code: str, name: str) -> str:
    """A tape as it is offered: its name, and when it was printed."""
    number = code.partition(" ")[2].partition(".")[0]
    revision = next((tape.revision for tape in rig.prove.tapes if tape.code == code), 0)
    builds = rig.history[revision - 1].card.build.name if revision else ""
    return f"{name}{f', for {builds}' if builds and number else ''}"


def _told(rig: Rig, chain: Chain, units: Units) -> dict[str, Any]:
    """Everything that is said of the tape that is on the sight."""
    verdict = chain.verdict
    if verdict is None:
        return {"verdict": None, "tape": chain.tape.strip.name, "lacks": words.LACKS[chain.lacks]}
    target = rig.card.goals.target_size_m or 0.0
    shift, stretch = pages.mending(rig, chain)
    drawn = pages.chart(rig, chain)
    say = words.head(verdict, chain, units)
    if rig.prove.other_arrow:
        say = (f"For its own arrow: {say[0][0].lower()}{say[0][1:]}", "not-yet")
    step, settled = rig.prove_step, bool(chain.lines) and verdict.agrees
    return {
        "verdict": verdict.kind,
        "doubt": verdict.doubt,
        "tape": chain.tape.strip.name,
        "head": say[0],
        "state": say[1],
        "now": words.next_step(step, units),
        "worst": words.worst(verdict, units, target) if settled else "",
        "next": words.next_words(verdict, units, verdict.worst_m) if step.code == "shoot" and chain.lines else "",
        "rows": [words.row_words(row, units) for row in verdict.rows] if settled else [],
        "shift": words.shift_words(shift, units) if shift is not None else None,
        "stretch": words.stretch_words(stretch) if stretch is not None else None,
        "pins": None if rig.card.sight_kind.dialled else words.pins_words(shift, stretch),
        "can_be_marks": service.can_be_marks(chain),
        "taken_over": service.taken_over(rig, chain.lines),
        "laying": chain.laying,
        "suspects": [words.line_words(line, units) for line in chain.suspects],
        "moved_after": verdict.moved_after,
        "cold": words.cold_words(chain.cold, units, verdict.worst_m) if chain.cold else "",
        "chart": chart_of(drawn, units, chain.wanted_m) if drawn is not None else None,
        "days": list(enumerate(drawn.days, start=1)) if drawn is not None else [],
        "lines": len(chain.lines),
        "too_far": ", ".join(words.whole_distance(units, d) for d in chain.too_far_m),
        "ends": units.as_typed("distance", chain.tape.strip.lines_m[-1]),
    }


def _other(rig: Rig, chain: Chain, units: Units) -> dict[str, Any]:
    """Another tape of this rig in one line."""
    verdict = chain.verdict
    said = words.head(verdict, chain, units)[0] if verdict is not None else "nothing can be asked of it"
    name = _tape_words(rig, chain.tape.code, chain.tape.strip.name)
    return {"name": name, "said": said, "lines": len(chain.lines), "days": chain.days, "before": chain.past}


def _log(rig: Rig, units: Units) -> list[dict[str, Any]]:
    """Every line that stands, the newest day first."""
    why = rig.prove.why_aside
    rows = []
    for line in reversed(rig.prove.lines):
        rows.append(
            {
                "key": line.key,
                "day": line.day.isoformat(),
                "words": words.line_words(line, units),
                "cold": line.cold,
                "wind": units.show("wind", line.crosswind_mps, 1) if line.crosswind_mps is not None else "",
                "slope": units.show("angle", line.slope_rad, 0) if line.slope_rad else "",
                "note": line.note,
                "aside": words.WHY_ASIDE[why[line.key]] if line.key in why else "",
                "when": local_time(line.entered),
            }
        )
    return rows


def _gone(rig: Rig, units: Units) -> list[tuple[str, str, str]]:
    """Lines that were taken back: they can be put back."""
    newest = {entry.key: entry for entry in rig.proof_log}
    return [(line.key, line.day.isoformat(), words.line_words(line, units)) for line in newest.values() if line.removed]
