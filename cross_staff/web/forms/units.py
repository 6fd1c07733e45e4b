"""The only place that knows yards, inches, feet per second, grains, grams and millimetres."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import asdict, dataclass


@dataclass(frozen=True)
class Unit:
    """A unit of one quantity: what it is called, and how much of the SI unit it is."""

    key: str
    label: str
    si: float
    decimals: int
    zero: float = 0.0  # what the unit's nought is, in the SI unit


YARD_M, INCH_M, FOOT_M, GRAIN_KG = 0.9144, 0.0254, 0.3048, 64.79891e-6
MILE_PER_HOUR_MPS = 0.44704
POUND_N = 4.4482216152605  # draw weight
KILOGRAM_N, OUNCE_KG = 9.80665, 0.028349523125

# quantity -> the units it may be shown in, the metric one first
CHOICES: dict[str, tuple[Unit, ...]] = {
    "distance": (Unit("m", "m", 1.0, 2), Unit("yd", "yd", YARD_M, 2)),
    "offset": (Unit("cm", "cm", 0.01, 1), Unit("in", "in", INCH_M, 2)),
    "length": (Unit("mm", "mm", 0.001, 1), Unit("in", "in", INCH_M, 3)),
    "speed": (Unit("mps", "m/s", 1.0, 2), Unit("fps", "fps", FOOT_M, 1)),
    "mass": (Unit("g", "g", 1e-3, 2), Unit("gr", "gr", GRAIN_KG, 1)),
}
QUANTITIES = {
    "distance": "Distances",
    "offset": "On the target",
    "length": "Bow and arrow",
    "speed": "Speed",
    "mass": "Mass",
}
FIXED = {
    "mark": Unit("mm", "mm", 1.0, 2),
    "angle": Unit("deg", "°", math.radians(1.0), 1),
    "percent": Unit("percent", "%", 0.01, 2),
    "force": Unit("lb", "lb", POUND_N, 1),
    "mass_per_force": Unit("gr/lb", "gr/lb", GRAIN_KG / POUND_N, 2),
    "seconds": Unit("s", "s", 1.0, 1),
    "temperature": Unit("degC", "°C", 1.0, 1),
    "turn": Unit("turn", "turn", 1.0, 3),
    "count": Unit("count", "", 1.0, 0),
    "plain": Unit("plain", "", 1.0, 3),
}


# what may be typed behind a number, by what it measures: every name of a unit, and how much of the SI unit it is
_LENGTHS = {
    "mm millimetre millimetres millimeter millimeters": 0.001,
    "cm centimetre centimetres centimeter centimeters": 0.01,
    "m metre metres meter meters": 1.0,
    "in in. inch inches \" ″ ” ''": INCH_M,
    "ft ft. foot feet ' ′ ’": FOOT_M,
    "yd yds yd. y yard yards": YARD_M,
}
_SPEEDS = {
    "m/s mps ms": 1.0,
    "fps ft/s": FOOT_M,
    "km/h kmh kph": 1.0 / 3.6,
    "mph mi/h": MILE_PER_HOUR_MPS,
    "kn kt knots": 1852.0 / 3600.0,
}
_MASSES = {
    "g gram grams": 1e-3,
    "gr grs grain grains": GRAIN_KG,
    "oz ounce ounces": OUNCE_KG,
    "kg": 1.0,
    "lb lbs pound pounds": 16.0 * OUNCE_KG,
}
_FORCES = {"lb lbs lb. # pound pounds": POUND_N, "kg kgf kilo kilos": KILOGRAM_N, "n newton newtons": 1.0}
_DENSITIES = {
    "gr/in gr/inch grains/inch grain/inch gpi": GRAIN_KG / INCH_M,
    "g/m grams/metre": 1e-3,
    "g/cm": 0.1,
}
_BEHIND: dict[str, dict[str, float]] = (
    dict.fromkeys(("distance", "offset", "length", "altitude", "diameter", "mark"), _LENGTHS)
    | dict.fromkeys(("speed", "wind"), _SPEEDS)
    | {
        "mass": _MASSES,
        "force": _FORCES,
        "density": _DENSITIES,
        "mass_per_force": {"gr/lb gr/# gpp grains/pound": GRAIN_KG / POUND_N, "g/kg": 1e-3 / KILOGRAM_N},
        "angle": {"° deg degree degrees": math.radians(1.0), "mrad": 1e-3},
        "percent": {"% percent": 0.01},
        "seconds": {"s sec second seconds": 1.0, "min minute minutes": 60.0},
        "turn": {"turn turns": 1.0},
    }
)
_TEMPERATURES = (Unit("degC", "°C", 1.0, 1), Unit("degF", "°F", 5.0 / 9.0, 1, -160.0 / 9.0))
# how a field that takes a quantity shows by example what it takes
EXAMPLES = {
    "distance": "20, 20 yd, 18.3 m or 60 ft",
    "offset": "4, 1 3/4 in or 4.4 cm",
    "length": "146, 146 mm, 5 7/8 in or 14.6 cm",
    "diameter": "6.5, 6.5 mm, 1/4 in or .256 in",
    "mark": "34.6, 34.6 mm, 1 3/8 in or 3.46 cm",
    "altitude": "500, 500 m or 1640 ft",
    "speed": "285, 285 fps or 86.9 m/s",
    "wind": "3, 3 m/s, 11 km/h or 7 mph",
    "mass": "27, 27 g, 420 gr or 0.95 oz",
    "force": "52, 52 lb, 52# or 23.6 kg",
    "density": "9.5, 9.5 gr/in or 24.2 g/m",
    "mass_per_force": "6, 6 gr/lb",
    "angle": "12 or 12.5°",
    "percent": "80 or 80 %",
    "seconds": "8 or 8 s",
    "temperature": "20, 20 °C or 68 °F",
    "turn": "1/8, 0.125 or 1 1/4",
}


def named(name: str, quantity: str) -> Unit | None:
    """The unit of a quantity that a person may name behind a number, by any of its names; None for none of it."""
    if quantity == "temperature":
        letter = name.replace(" ", "").removeprefix("°").removeprefix("deg")
        return next((unit for unit in _TEMPERATURES if letter == unit.label[-1].lower()), None)
    for names, si in _BEHIND.get(quantity, {}).items():
        first, si = names.split()[0], si * (1000.0 if quantity == "mark" else 1.0)  # marks are kept in millimetres
        if name.replace(" per ", "/") in names.split():
            return Unit(first, first, si, 2)
    return None


@dataclass(frozen=True)
class Units:
    """The units chosen for a rig, each by itself."""

    distance: str = "m"
    offset: str = "cm"
    length: str = "mm"
    speed: str = "fps"
    mass: str = "gr"

    @classmethod
    def of(cls, chosen: dict[str, str]) -> Units:
        """Units from their keys; what is unknown or missing stays at its default."""
        known = {
            quantity: chosen[quantity]
            for quantity, choices in CHOICES.items()
            if chosen.get(quantity) in {unit.key for unit in choices}
        }
        return cls(**known)

    def keys(self) -> dict[str, str]:
        return asdict(self)

    def unit(self, quantity: str) -> Unit:
        """The unit for a quantity; `density` is mass per length of shaft, altitude and wind go with the unit of
        distance, diameters with that of bow and arrow."""
        if quantity == "density":
            grains = self.mass == "gr"
            return Unit("gr/in", "gr/in", GRAIN_KG / INCH_M, 2) if grains else Unit("g/m", "g/m", 1e-3, 2)
        if quantity == "altitude":
            return Unit("ft", "ft", FOOT_M, 0) if self.distance == "yd" else Unit("m", "m", 1.0, 0)
        if quantity == "wind":
            return Unit("mph", "mph", MILE_PER_HOUR_MPS, 1) if self.distance == "yd" else Unit("mps", "m/s", 1.0, 1)
        if quantity == "diameter":
            return Unit("in", "in", INCH_M, 4) if self.length == "in" else Unit("mm", "mm", 0.001, 2)
        if quantity in FIXED:
            return FIXED[quantity]
        chosen = getattr(self, quantity)
        return next(unit for unit in CHOICES[quantity] if unit.key == chosen)

    @property
    def words(self) -> str:
        """The units of lengths and distances, for a list to choose from."""
        return "yards and inches" if self.distance == "yd" else "metres and millimetres"

    def label(self, quantity: str) -> str:
        return self.unit(quantity).label

    def keypad(self, quantity: str) -> str:
        """Which keys a phone shows: figures alone, unless fractions are likely."""
        return "text" if self.unit(quantity).key in ("in", "ft") else "decimal"

    def to_si(self, quantity: str, value: float) -> float:
        return value * self.unit(quantity).si

    def from_si(self, quantity: str, value: float) -> float:
        return value / self.unit(quantity).si

    def plain(self, quantity: str, value: float | None, decimals: int | None = None) -> str:
        """The number alone, without idle zeros, as it goes into a field."""
        if value is None:
            return ""
        places = self.unit(quantity).decimals if decimals is None else decimals
        return trimmed(self.from_si(quantity, value), places)

    def as_typed(self, quantity: str, value: float) -> str:
        """The number as it was typed: with up to two decimals where it has no more, else to the tenth."""
        shown = self.from_si(quantity, value)
        return trimmed(shown, 2 if abs(shown - round(shown, 2)) < 1e-6 else 1)

    def measured(self, quantity: str, value: float) -> str:
        """A number that was measured, to a place more than its field shows: nothing of it is rounded away."""
        return self.plain(quantity, value, self.unit(quantity).decimals + 1)

    def listed(self, quantity: str, values: Iterable[float]) -> str:
        """Numbers one after the other, as they go into a field that takes several."""
        return "  ".join(self.plain(quantity, value) for value in values)

    def show(self, quantity: str, value: float | None, decimals: int | None = None) -> str:
        """The number with its unit, to be read."""
        if value is None:
            return "not known"
        unit = self.unit(quantity)
        places = unit.decimals if decimals is None else decimals
        space = "" if unit.key == "deg" else "\u00a0"
        return f"{fixed(self.from_si(quantity, value), places)}{space}{unit.label}"


UNIT_SETS = {"metric": Units(), "yards": Units("yd", "in", "in", "fps", "gr")}


def trimmed(value: float, decimals: int) -> str:
    """A number with at most `decimals` decimals and no idle zeros; a true minus for reading
    is left to `fixed`, fields keep the plain one."""
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def fixed(value: float, decimals: int) -> str:
    """A number with exactly `decimals` decimals, a true minus sign, and no minus nought."""
    text = f"{value:.{decimals}f}"
    if float(text) == 0.0:
        text = text.lstrip("-")
    return text.replace("-", "−")
