"""The tape and the fit, beside the same work done by a high-accuracy general ODE integrator.

Times on a shared machine are noise; the ratio of two times taken in one run is what counts.
"""

from __future__ import annotations

import math
import statistics
import time
from collections.abc import Callable

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq, least_squares

from cross_staff.core.ballistics.flight import GRAVITY, RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.simulate.bench import HiddenAxis, follow
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solve

RIGS = {"A": RigFigures(81.0, 0.00142, 0.82, 0.104), "B": RigFigures(66.5, 0.0021, 0.74, 0.093)}
DISTANCES = np.arange(15.0, 121.0)
PRIORS = Priors(Known(80.2, 0.6), Known(0.0015, 0.25), Known(0.82, 0.005), Known(0.104, 0.005))


def miss(figures: RigFigures, pin_height_m: float, distance_m: float) -> float:
    """Height of the miss by DOP853 at rtol 1e-11 [m]."""
    delta = math.atan((figures.peep_height_m - pin_height_m) / figures.eye_to_sight_m)

    def motion(_u: float, y: np.ndarray) -> list[float]:
        _, forward, upward = y
        drag = figures.drag_per_m * math.hypot(forward, upward)
        return [upward / forward, -drag, -(drag * upward + GRAVITY) / forward]

    start = [
        -pin_height_m * math.cos(delta),
        figures.speed_mps * math.cos(delta),
        figures.speed_mps * math.sin(delta),
    ]
    span = (pin_height_m * math.sin(delta), distance_m)
    return float(solve_ivp(motion, span, start, "DOP853", rtol=1e-11, atol=1e-12).y[0, -1])


def general_pin_height(figures: RigFigures, distance_m: float) -> float:
    """Pin height by root search on the general integrator [m]."""
    return float(brentq(lambda h: miss(figures, h, distance_m), -0.05, 0.12, xtol=1e-9))


def general_tape(figures: RigFigures) -> np.ndarray:
    """The whole tape, row by row [m]."""
    return np.array([general_pin_height(figures, d) for d in DISTANCES])


def observations(count: int) -> list[Observation]:
    """Marks that rig A would give, with a fixed wobble."""
    distances = np.linspace(18.0, 85.0, count)
    heights = pin_heights(Trajectories.of(RIGS["A"], [18.0, *distances])).height_m
    marks = 1000.0 * (heights[0] - heights[1:])
    return [Observation(d, m + 0.15 * (-1) ** i, 0.2) for i, (d, m) in enumerate(zip(distances, marks))]


def general_fit(seen: list[Observation]) -> np.ndarray:
    """The same fit by a general least-squares routine on the general integrator.

    Returns: estimate and sds of (v0, ln k, L, Hp, m0) (10,).
    """
    known = (PRIORS.speed_mps, PRIORS.drag_per_m, PRIORS.eye_to_sight_m, PRIORS.peep_height_m)
    centre = [known[0].value, math.log(known[1].value), known[2].value, known[3].value]
    width = [k.sd or 0.0 for k in known]

    def whitened(x: np.ndarray) -> list[float]:
        figures = RigFigures(x[0], math.exp(x[1]), x[2], x[3])
        home = general_pin_height(figures, 18.0)
        marks = [x[4] + 1000.0 * (home - general_pin_height(figures, o.distance_m)) for o in seen]
        data = [(o.mark_mm - m) / o.reading_sd_mm for o, m in zip(seen, marks)]
        return data + [(a - c) / w for a, c, w in zip(x, centre, width)]

    fit = least_squares(whitened, [*centre, 0.0], x_scale=[*width, 0.2], xtol=1e-7)
    return np.concatenate([fit.x, np.sqrt(np.diag(np.linalg.inv(fit.jac.T @ fit.jac)))])


def our_fit(seen: list[Observation]) -> np.ndarray:
    """Estimate and sds of (v0, ln k, L, Hp, m0) by the core (10,)."""
    fit = solve(PRIORS, 18.0, seen)
    x = fit.estimate.copy()
    x[1] += math.log(PRIORS.drag_per_m.value)
    keep = [0, 1, 2, 3, 5]
    return np.concatenate([x[keep], np.sqrt(np.diag(fit.covariance))[keep]])


def timed(work: Callable[[], object], times: int) -> list[float]:
    """Milliseconds of each of `times` runs, after one to warm up."""
    work()
    timeds = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        timeds.append(1000.0 * (time.perf_counter() - start))
    return timeds


def line(name: str, ours: list[float], general_ms: float, error: str = "") -> None:
    median = statistics.median(ours)
    print(
        f"{name:<26} median {median:7.2f} ms  best {min(ours):7.2f} ms  "
        f"general {general_ms:9.0f} ms  ratio {general_ms / median:7.0f}{error}"
    )


def orders_followed(count: int = 200) -> None:
    """Simulated axes brought in by the program's orders alone, at two tolerances."""
    print(f"{count} simulated axes, following orders alone")
    for tolerance in (0.25, 0.15):
        axes = [HiddenAxis.drawn(np.random.default_rng(seed)) for seed in range(count)]
        went = [follow(axis, math.radians(tolerance)) for axis in axes]
        turns = np.array([each.turns for each in went])
        good = [each for each in went if each.good]
        inside = sum(abs(each.error_rad) <= math.radians(tolerance) for each in good)
        looks = sum(each.looks for each in went) / count
        print(
            f"within {tolerance:.2f} deg: median {np.median(turns):.0f} turns, 95 % in {np.percentile(turns, 95):.0f}, "
            f"most {turns.max()}; good said {len(good)} times, true {100.0 * inside / len(good):.1f} %; "
            f"{looks:.0f} looks"
        )


def main() -> None:
    print(f"tape of {len(DISTANCES)} marks, 15 to 120 m")
    for name, figures in RIGS.items():
        start = time.perf_counter()
        exact = general_tape(figures)
        general = 1000.0 * (time.perf_counter() - start)
        ours = pin_heights(Trajectories.of(figures, DISTANCES)).height_m
        lever = (figures.eye_to_sight_m + DISTANCES) / figures.eye_to_sight_m
        worst = 1000.0 * float(np.max(np.abs(ours - exact) * lever))
        work = timed(lambda figures=figures: pin_heights(Trajectories.of(figures, DISTANCES)), 60)  # type: ignore[misc]
        line(f"rig {name}", work, general, f"  worst {worst:.4f} mm on the target")
    print("fit with covariance")
    for count in (3, 6, 10):
        seen = observations(count)
        start = time.perf_counter()
        wanted = general_fit(seen)
        general = 1000.0 * (time.perf_counter() - start)
        got = our_fit(seen)
        apart = float(np.max(np.abs(got - wanted)[:5] / wanted[5:]))
        work = timed(lambda seen=seen: solve(PRIORS, 18.0, seen), 25)  # type: ignore[misc]
        line(f"{count} observations", work, general, f"  at most {apart:.4f} sd apart")
    orders_followed()


if __name__ == "__main__":
    main()
