"""What is set aside at a station, by what, since when, and how few arrows prove it again, in words."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from cross_staff.core.rig.staleness import Event
from cross_staff.core.tape.reproof import ProofEnd, Reproof
from cross_staff.services.rig import Rig
from cross_staff.web.card.words import RESULTS
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.words import whole_distance

_KINDS = {
    "checks": ("check of the bench sheet", "checks of the bench sheet"),
    "steps": ("step of mounting", "steps of mounting"),
    "looks": ("look at an axis", "looks at the axes"),
    "ends": ("end of arrows", "ends of arrows"),
    "marks": ("mark", "marks"),
    "proofs": ("proof line", "proof lines"),
    "speed": ("chronographed speed", "chronographed speeds"),
}


def counted(kind: str, count: int) -> str:
    """How many of a kind that was measured."""
    one, many = _KINDS[kind]
    return f"{count} {one if count == 1 else many}"


def all_counted(kinds: Iterable[tuple[str, int]]) -> str:
    """What would be set aside, as a list in words; empty where nothing is."""
    return ", ".join(counted(kind, count) for kind, count in kinds)


def event_words(event: Event) -> str:
    """What happened, as a list in words."""
    return "; ".join(cause.words for cause in event.causes)


def aside_lines(rig: Rig, station: str = "") -> list[dict[str, Any]]:
    """What is set aside at a station (all of them, where none is named): how much, why, when, and the results that
    can be taken up again."""
    saved = {each.number: each.saved for each in rig.history}
    return [
        {
            "words": f"{counted(each.kind, each.count)} set aside{_but(each.kind, station)}",
            "why": event_words(each.event),
            "when": local_time(saved[each.event.number]),
            "results": [(result, RESULTS[result]) for result in each.results],
            "number": each.event.number,
            "station": each.station,
        }
        for each in rig.set_aside
        if not (station == "prove" and _begins_a_chain(each.event))
        if station in ("", each.station) or (station == "tape" and each.kind == "speed")
    ]


def _begins_a_chain(event: Event) -> bool:
    """Whether it is only that pointer or strip were moved: the page of proving shows the chains by themselves."""
    return all(cause.key in ("indicator", "strip") for cause in event.causes)


def _but(kind: str, station: str) -> str:
    """A tape rests on its speed, and says so: it counts as three per cent wider until it is measured again."""
    if kind != "speed":
        return ""
    return ", which the tape rests on: it counts as 3 % unsure" if station == "tape" else ", and counts as 3 % unsure"


def proof_end(end: ProofEnd, units: Units, sideways: bool) -> str:
    """One end that is asked for, with its band."""
    band = units.show("offset", end.band_m, 1)
    ways = "up, down or sideways" if sideways else "up or down"
    return f"{end.arrows} arrows at {whole_distance(units, end.ranged_m)}, their mean within {band} {ways}"


def reproof_words(proof: Reproof | None, units: Units) -> str:
    """How little proves it again."""
    if proof is None:
        return ""
    if not proof.ends:
        return "a dozen arrows could not, with this group and target, or the card does not name them: shoot it anew."
    return "; then ".join(proof_end(end, units, proof.sideways) for end in proof.ends) + "."


def proof_seen(proof: Reproof, units: Units) -> list[str]:
    """What came in so far, an end a line."""
    lines = []
    for seen in proof.seen:
        side = "high" if seen.up_m >= 0.0 else "low"
        across = ", left or right not noted" if proof.sideways and seen.right_m is None else ""
        if proof.sideways and seen.right_m is not None:
            across = f" and {units.show('offset', abs(seen.right_m), 1)} {'right' if seen.right_m >= 0.0 else 'left'}"
        verdict = "in the band" if seen.passes else "outside the band"
        lines.append(
            f"{whole_distance(units, seen.end.ranged_m)}: {seen.arrows} of {seen.end.arrows} arrows, "
            f"{units.show('offset', abs(seen.up_m), 1)} {side}{across} of what was foretold, {verdict}"
        )
    return lines


def reproof_context(rig: Rig, units: Units) -> dict[str, Any]:
    """The smallest re-proof for a page: what is asked, what came in, whether it is proved, or moved, and whether the
    distances between the old marks are in use again."""
    proof = rig.state.reproof
    return {
        "spans": any(row.zero for row in rig.evaluation.used),
        "asked": reproof_words(proof, units),
        "seen": proof_seen(proof, units) if proof else [],
        "passed": bool(proof and proof.passed),
        "failed": bool(proof and proof.failed),
    }
