"""What an event makes old, why, and how little proves it again, in words."""

from __future__ import annotations

from collections.abc import Iterable

from cross_staff.core.rig.events import Cause
from cross_staff.core.tape.reproof import ProofEnd, Reproof
from cross_staff.web.card.words import RESULTS
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import whole_distance


def reasons(causes: Iterable[Cause]) -> list[tuple[str, str]]:
    """What causes make old, each result once with its first reason, in the order of the stations."""
    said: dict[str, str] = {}
    for cause in causes:
        for result in cause.makes_stale:
            said.setdefault(result, cause.reasons[result])
    return [(RESULTS[result], said[result]) for result in RESULTS if result in said]


def proof_end(end: ProofEnd, units: Units, sideways: bool) -> str:
    """One end that is asked for, with its band."""
    band = units.show("offset", end.band_m, 1)
    ways = "up, down or sideways" if sideways else "up or down"
    return f"{end.arrows} arrows at {whole_distance(units, end.ranged_m)}, their mean within {band} {ways}"


def reproof(proof: Reproof | None, units: Units) -> str:
    """How little proves it again."""
    if proof is None:
        return ""
    if not proof.ends:
        return "A dozen arrows could not tell with this group and this target: it has to be shot anew."
    return "; then ".join(proof_end(end, units, proof.sideways) for end in proof.ends) + "."


def proof_seen(proof: Reproof, units: Units) -> list[str]:
    """What came in so far, an end a line."""
    lines = []
    for seen in proof.seen:
        side = "high" if seen.up_m >= 0.0 else "low"
        across = ""
        if proof.sideways and seen.right_m is not None:
            across = f" and {units.show('offset', abs(seen.right_m), 1)} {'right' if seen.right_m >= 0.0 else 'left'}"
        verdict = "in the band" if seen.passes else "outside the band"
        lines.append(
            f"{whole_distance(units, seen.end.ranged_m)}: {seen.arrows} of {seen.end.arrows} arrows, "
            f"{units.show('offset', abs(seen.up_m), 1)} {side}{across} of what was foretold, {verdict}"
        )
    return lines
