"""Tables of holds: where to aim with each pin, point-on bands, what a misjudged distance costs."""

from __future__ import annotations

import math

from cross_staff.web.shared.words import on_target
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table, TapeView

MISJUDGED = (1.0, 2.0, 5.0)  # whole units of distance
_FAR_OFF_M = 3.0  # a hold beyond this is no hold


def holds(t: TapeView) -> Table:
    """For every distance and pin: where to hold, in heights of the target too."""
    ranged = t.distances()
    up = t.shots_at(t.from_sight(ranged))
    rows = [
        [t.number(d), *(words.hold(t.units, _near(float(up[pin, i])), t.target_m) for pin in range(len(t.heights)))]
        for i, d in enumerate(ranged)
    ]
    return Table(
        "holds",
        f"Holds, {t.units.label('offset')}",
        (t.unit, *t.pin_names),
        rows,
        f"In brackets: heights of a target of {on_target(t.units, t.target_m)}.",
    )


def _near(up_m: float) -> float | None:
    return up_m if math.isfinite(up_m) and abs(up_m) <= _FAR_OFF_M else None


def bands(t: TapeView) -> Table:
    """Each pin's point-on band, and what midway to the next pin is right for."""
    between = [*t.midway(), None]
    rows = []
    for name, band, middle in zip(t.pin_names, t.bands(), between):
        near = "–" if band is None else "the bow" if band.starts_near else t.ranged(band.near_m)
        rows.append([name, near, "–" if band is None else t.ranged(band.far_m), t.ranged(middle)])
    return Table(
        "bands",
        f"Point-on for {on_target(t.units, t.target_m)}",
        ("held on the middle", f"from, {t.unit}", f"to, {t.unit}", f"midway to the next, {t.unit}"),
        rows,
    )


def misjudged(t: TapeView) -> Table:
    """What a misjudged distance costs."""
    unit, ranged = t.units.unit("distance").si, t.distances()
    errors = [sign * error * unit for error in MISJUDGED for sign in (1.0, -1.0)]
    rows = []
    for d, ups in zip(ranged, t.misjudged(ranged, errors)):
        words_of = [words.high_low(t.units, up) for up in ups]
        rows.append([t.number(d), *(f"{far} / {near}" for far, near in zip(words_of[::2], words_of[1::2]))])
    heads = (t.unit, *(f"{error:g} too far / too near" for error in MISJUDGED))
    note = "Whichever pin was taken for it: the sight stands for a distance too far, or too near."
    return Table("misjudged", f"Misjudged, {t.units.label('offset')}", heads, rows, note if len(t.heights) > 1 else "")
