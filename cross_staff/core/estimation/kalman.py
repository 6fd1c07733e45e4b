"""What every arrow so far says of where the aiming points stand, with the sight's movements taken out.

One linear Gaussian estimate over how far each aiming point must still be moved [mm at the sight
plane, right or up positive] and over what each control does (its gain, mm a unit). An end of arrows
sharpens it; a movement shifts it by gain times amount and blurs it by what hands cannot help.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import product

import numpy as np

FLAT_MM = 40.0  # nothing known of where a sight that was just mounted points
REVERSED_CHANCE = 0.1  # of a control whose way was not checked on this bow


@dataclass(frozen=True)
class TravelPerUnit:
    """What a unit of a control moves [mm]: its size with the sd, and whether its way was checked."""

    size: float
    sd: float
    checked: bool = True


@dataclass(frozen=True)
class Observed:
    """Arrows: which states they see with what weight, how far it is still to go [mm], and its sd."""

    weights: Mapping[str, float]
    value: float
    sd: float


@dataclass(frozen=True)
class Moved:
    """A control was moved by an amount [units]; the states it takes along, and the sd of one movement."""

    states: tuple[str, ...]
    drive: str
    amount: float
    noise_mm: float


@dataclass(frozen=True)
class Placed:
    """A state was set anew, by a rule from another one: nothing of what was known of it holds, but that
    it is as far off as that one, give or take sd [mm]."""

    state: str
    sd: float
    beside: str


@dataclass(frozen=True)
class Shifted:
    """Something moved these states together, by an amount that nobody knows: one sd [mm]."""

    states: tuple[str, ...]
    sd: float


Happening = Observed | Moved | Placed | Shifted


@dataclass(frozen=True)
class FilterEstimate:
    """What is believed: mean (n,) and covariance (n, n) of the states and gains by name, the ways of
    the controls (+1 as the card says, -1 reversed), the log-evidence, and how likely the way of each control is
    that was not checked."""

    names: tuple[str, ...]
    mean: np.ndarray
    covariance: np.ndarray
    ways: Mapping[str, int]
    evidence: float
    way_chance: Mapping[str, float] = field(default_factory=dict)

    def of(self, weights: Mapping[str, float]) -> tuple[float, float]:
        """Mean and sd of a weighted sum of states."""
        row = self._row(weights)
        return float(row @ self.mean), math.sqrt(max(float(row @ self.covariance @ row), 0.0))

    def travel_per_unit(self, drive: str) -> tuple[float, float]:
        """What a unit moves, its way counted [mm], and the sd."""
        size, sd = self.of({_gain(drive): 1.0})
        return self.ways.get(drive, 1) * size, sd

    def _row(self, weights: Mapping[str, float]) -> np.ndarray:
        return np.array([weights.get(name, 0.0) for name in self.names])


def _gain(drive: str) -> str:
    return f"gain of {drive}"


def estimate_from(
    states: Mapping[str, float],
    travels_per_unit: Mapping[str, TravelPerUnit],
    happenings: Sequence[Happening],
    ways: Mapping[str, int],
) -> FilterEstimate:
    """The estimate after everything that happened, in its order.

    x' = x - gain * amount for a movement, so that the state is carried on together with the gain
    (a Kalman filter with the gains in its state). A control whose way was not checked is believed
    the way of the card until the arrows make the other way likelier.

    Args:
        states: their first sd [mm] by name, about nought.
        travels_per_unit: what a unit of each control moves [mm], by its name.
        happenings: ends seen, movements made and pins placed, in their order.
        ways: of the controls whose way is settled, +1 or -1.

    Returns:
        mean and covariance of all states [mm] and travels per unit, and the likelier ways.

    Source:
        R. E. Kalman, 1960; docs/method.md, section 14.
    """
    moved = {h.drive for h in happenings if isinstance(h, Moved)}
    unsure = sorted(d for d in moved if d in travels_per_unit and not travels_per_unit[d].checked and d not in ways)
    runs = []
    for signs in product((1, -1), repeat=len(unsure)):
        tried = dict(ways) | dict(zip(unsure, signs))
        prior = sum(math.log(REVERSED_CHANCE if s < 0 else 1.0 - REVERSED_CHANCE) for s in signs)
        runs.append(_run(states, travels_per_unit, happenings, tried, prior))
    return _mixed(runs, len(states), unsure)


def _mixed(estimates: Sequence[FilterEstimate], states: int, unsure: Sequence[str]) -> FilterEstimate:
    """The likeliest estimate, its states widened by what the other ways of the controls would make of them."""
    best = max(estimates, key=lambda estimate: estimate.evidence)
    if len(estimates) == 1:
        return best
    weight = np.exp([estimate.evidence - best.evidence for estimate in estimates])
    weight = weight / weight.sum()
    mean = best.mean.copy()
    mean[:states] = sum(w * estimate.mean[:states] for w, estimate in zip(weight, estimates))
    covariance = best.covariance.copy()
    apart = [estimate.mean[:states] - mean[:states] for estimate in estimates]
    covariance[:states, :states] = sum(
        w * (estimate.covariance[:states, :states] + np.outer(a, a)) for w, estimate, a in zip(weight, estimates, apart)
    )
    sure = {
        drive: float(sum(w for w, e in zip(weight, estimates) if e.ways[drive] == best.ways[drive])) for drive in unsure
    }
    return FilterEstimate(best.names, mean, covariance, best.ways, best.evidence, sure)


def _run(
    states: Mapping[str, float],
    travels_per_unit: Mapping[str, TravelPerUnit],
    happenings: Sequence[Happening],
    ways: Mapping[str, int],
    evidence: float,
) -> FilterEstimate:
    names = (*states, *(_gain(drive) for drive in travels_per_unit))
    place = {name: index for index, name in enumerate(names)}
    mean = np.array([0.0] * len(states) + [travel_per_unit.size for travel_per_unit in travels_per_unit.values()])
    covariance = np.diag(
        [sd**2 for sd in states.values()] + [travel_per_unit.sd**2 for travel_per_unit in travels_per_unit.values()]
    )
    for each in happenings:
        if isinstance(each, Placed):
            copy = np.eye(len(names))
            copy[place[each.state]] = np.eye(len(names))[place[each.beside]] if each.beside in place else 0.0
            mean, covariance = copy @ mean, copy @ covariance @ copy.T
            covariance[place[each.state], place[each.state]] += each.sd**2
        elif isinstance(each, Shifted):
            shift = np.array([each.sd * (name in each.states) for name in names])
            covariance = covariance + np.outer(shift, shift)
        elif isinstance(each, Moved):
            carry = np.eye(len(names))
            noise = np.zeros(len(names))
            for state in each.states:
                carry[place[state], place[_gain(each.drive)]] = -ways.get(each.drive, 1) * each.amount
                noise[place[state]] = each.noise_mm
            mean = carry @ mean
            covariance = carry @ covariance @ carry.T + np.outer(noise, noise)
        else:
            row = np.array([each.weights.get(name, 0.0) for name in names])
            toward = covariance @ row
            variance = float(row @ toward) + each.sd**2
            miss = each.value - float(row @ mean)
            mean = mean + toward * (miss / variance)
            covariance = covariance - np.outer(toward, toward) / variance
            evidence -= 0.5 * (miss**2 / variance + math.log(variance))
    return FilterEstimate(names, mean, covariance, ways, evidence)
