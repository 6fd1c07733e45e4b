"""How the tape sits on the sight, as fields of a form and back: on the card and on a sight model."""

from __future__ import annotations

from cross_staff.core.rig.sight import TapeSeat
from cross_staff.web.card.fields import CHOICES, LISTS, NUMBERS
from cross_staff.web.forms.form import FormInput

CHOSEN = ("tape_ticks_at", "tape_runs", "tape_scale", "tape_kind")
NUMERIC = ("tape_width", "tape_length", "tape_ratio", "tape_ratio_sd")


def seat_values(seat: TapeSeat) -> dict[str, float | None]:
    """The numbers of a seat by the names of their fields."""
    return {
        "tape_width": seat.width_mm,
        "tape_length": seat.length_mm,
        "tape_ratio": None if seat.ratio in (None, 1.0) else seat.ratio,
        "tape_ratio_sd": seat.ratio_sd or None,
    }


def seat_lists(seat: TapeSeat) -> dict[str, tuple[float, ...]]:
    """The lists of a seat by the names of their fields."""
    return {"tape_places": seat.places_mm}


def seat_texts(seat: TapeSeat) -> dict[str, str]:
    """The choices of a seat, field by field."""
    return {
        "tape_ticks_at": seat.ticks_at,
        "tape_runs": seat.farther_runs,
        "tape_scale": "grows" if seat.scale_grows else "falls",
        "tape_kind": "unknown" if seat.ratio is None else "slide" if seat.ratio == 1.0 else "ratio",
    }


def read_seat(form: FormInput) -> TapeSeat:
    """The seat that was typed, printed in the form's unit of distance."""
    width, length, ratio, ratio_sd = (form.number(n, NUMBERS[n].quantity, NUMBERS[n].span) for n in NUMERIC)
    edge, runs, scale, kind = (form.choice(n, tuple(key for key, _ in CHOICES[n])) for n in CHOSEN)
    spec = LISTS["tape_places"]
    places = tuple(sorted(set(form.numbers(spec.name, spec.quantity, spec.span))))
    if kind == "ratio" and ratio is None and "tape_ratio" not in form.errors:
        form.errors["tape_ratio"] = "type the ratio, or let it be found from the marks"
    return TapeSeat(
        TapeSeat.width_mm if width is None else width,
        edge,
        runs,
        scale == "grows",
        {"slide": 1.0, "ratio": ratio or 1.0, "unknown": None}[kind],
        form.units.to_si("distance", 1.0),
        length,
        ratio_sd or 0.0 if kind == "ratio" else 0.0,
        places,
    )
