"""Density of moist air, and the drag constant of an arrow in it."""

from __future__ import annotations

import math

GAS_CONSTANT_DRY = 287.053  # J/(kg K)
GAS_CONSTANT_VAPOUR = 461.495  # J/(kg K)
STANDARD_DENSITY_KGM3 = 1.2211  # 15 degC, 101325 Pa, half saturated


def saturation_pressure(temperature_c: float) -> float:
    """Vapour pressure over water at saturation.

    e_s = 611.21 exp(17.502 T / (240.97 + T)), T in degC.

    Args:
        temperature_c: [degC], -40 to 60.

    Returns:
        pressure [Pa].

    Source:
        A. L. Buck, New equations for computing vapor pressure and enhancement factor, 1981.
    """
    return 611.21 * math.exp(17.502 * temperature_c / (240.97 + temperature_c))


def air_density(temperature_c: float, pressure_pa: float, relative_humidity: float) -> float:
    """Density of moist air as a mixture of two ideal gases.

    rho = (P - e)/(R_d T) + e/(R_v T), e = RH e_s(T).

    Args:
        temperature_c: [degC], -40 to 60.
        pressure_pa: station pressure [Pa].
        relative_humidity: [-], 0 to 1.

    Returns:
        density [kg/m3].

    Source:
        ideal-gas mixture; saturation pressure after Buck (1981).
    """
    kelvin = temperature_c + 273.15
    vapour = relative_humidity * saturation_pressure(temperature_c)
    dry = pressure_pa - vapour
    return dry / (GAS_CONSTANT_DRY * kelvin) + vapour / (GAS_CONSTANT_VAPOUR * kelvin)


def standard_pressure(altitude_m: float) -> float:
    """Pressure of the standard atmosphere at an altitude.

    p = 101325 (1 - 2.25577e-5 z)^5.25588.

    Args:
        altitude_m: [m], -500 to 11000.

    Returns:
        pressure [Pa].

    Source:
        ISO 2533, Standard atmosphere, 1975.
    """
    return float(101325.0 * (1.0 - 2.25577e-5 * altitude_m) ** 5.25588)


def drag_per_m(drag_coefficient: float, shaft_diameter_m: float, mass_kg: float, density_kgm3: float) -> float:
    """Drag constant k of a = -k v |v| for an arrow, referred to its shaft section.

    k = rho Cd A / (2 m), A = pi D^2 / 4.

    Args:
        drag_coefficient: Cd [-], of the shaft's section.
        shaft_diameter_m: D [m], outside.
        mass_kg: m of the whole arrow [kg].
        density_kgm3: of the air [kg/m3].

    Returns:
        k [1/m].

    Source:
        definition of the drag coefficient; Cd of arrows in docs/method.md, section 2.
    """
    area = math.pi * shaft_diameter_m**2 / 4.0
    return density_kgm3 * drag_coefficient * area / (2.0 * mass_kg)
