"""Whether the 95 % bands of a tape hold, where days differ and the archer's spread is stated or not.

Every bow is drawn from what its card says; every mark is six arrows, and all arrows of a day share an offset. Printed:
in how many of a hundred a band holds the true mark, over 20 to 95 m, by day spread, layout and what is known; then the
same where one arrow in twenty is a wild one, where the chronograph is 2 % off, one way or the other, and without one.
"""

from __future__ import annotations

import math
import os
import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from itertools import product, repeat

import numpy as np

from cross_staff.core.ballistics.flight import Trajectories
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.estimation.groups import Shot, suspects
from cross_staff.core.rig.card import SPREAD_SD_LN, USUAL_SPREAD_MRAD
from cross_staff.core.rig.priors import Known
from cross_staff.core.rig.scatter import DAY_PART, Scatter
from cross_staff.core.simulate.tape_trial import HOME_M, READING_SD_MM, Trial, draw
from cross_staff.core.tape.day_spread import fit_with_days
from cross_staff.core.tape.forecast import COVERAGE, PlannedGroup
from cross_staff.core.tape.observation import Observation

BOWS, ARROWS = 2000, 6
DAYS_MRAD = (0.0, 0.3, 0.5)
SPREAD_MRAD = 1.0  # of the archer who states it
LAYOUTS = {
    "2+3": ((17.0, 50.0), (17.0, 38.0, 60.0)),
    "3+3": ((17.0, 38.0, 60.0), (17.0, 38.0, 60.0)),
    "3x3": ((17.0, 38.0, 60.0), (17.0, 38.0, 60.0), (17.0, 38.0, 60.0)),
}
AT_M = tuple(float(d) for d in range(20, 100, 5))
WILD_PART, WILD_TIMES = 0.05, 5.0  # how many arrows are wild, and how many times wider they fly
CHRONOGRAPH_OFF = 0.02
UNMEASURED = 0.09  # one sd of a speed that is taken from the bow, as a part of it
FAULT_DAY_MRAD = 0.3
FAULTS = ("wild", "chronograph", "unmeasured")
Cell = tuple[float, str, bool, str]


def held(seed: int, cell: Cell) -> tuple[float, float]:
    """The part of the distances at which one bow's band holds the true mark, and whether it holds at the last."""
    day_mrad, layout, stated, fault = cell
    trial = draw(seed)
    if fault == "unmeasured":
        said = trial.priors.speed_mps.value
        trial.priors = replace(trial.priors, speed_mps=Known(said, UNMEASURED * said))
        trial.true = replace(trial.true, speed_mps=said * (1.0 + UNMEASURED * float(trial.generator.normal())))
    if fault == "chronograph":
        off = CHRONOGRAPH_OFF * (1.0 if seed % 2 else -1.0)
        trial.true = replace(trial.true, speed_mps=trial.priors.speed_mps.value * (1.0 + off))
    if stated:
        trial.spread_mrad = SPREAD_MRAD
    spread = SPREAD_MRAD if stated else USUAL_SPREAD_MRAD
    scatter = Scatter(spread, DAY_PART * spread, 0.0 if stated else SPREAD_SD_LN)
    shot = [(number, d) for number, distances in enumerate(LAYOUTS[layout]) for d in distances]
    heights = pin_heights(Trajectories.of(trial.true, [HOME_M, *(d for _, d in shot), *AT_M])).height_m
    marks = 1000.0 * (heights[0] - heights[1:])
    days = trial.generator.normal(0.0, day_mrad, len(LAYOUTS[layout]))
    seen = [
        observed(trial, distance, float(mark), str(number), float(days[number]), spread, fault == "wild")
        for (number, distance), mark in zip(shot, marks)
    ]
    fit, _ = fit_with_days(trial.priors, HOME_M, seen, (), scatter, [True] * len(seen))
    rows = fit.tape(AT_M)
    true = marks[len(shot) :]
    holds = [abs((r.mark_mm or 0.0) - mark) <= COVERAGE * (r.sd_mm or 0.0) for mark, r in zip(true, rows)]
    return float(np.mean(holds)), float(holds[-1])


def observed(
    trial: Trial, distance_m: float, true_mm: float, session: str, off_mrad: float, spread_mrad: float, wild: bool
) -> Observation:
    """Six arrows with the sight read to stand at a mark, on a day that comes in high by its own offset; what the
    program points at as no arrow of this end is called bad."""
    generator = trial.generator
    mark = true_mm + float(generator.normal(0.0, READING_SD_MM))
    times = np.where(generator.random(ARROWS) < (WILD_PART if wild else 0.0), WILD_TIMES, 1.0)
    places = generator.normal(0.0, 1e-3 * distance_m * trial.spread_mrad, (ARROWS, 2)) * times[:, None]
    shots = [Shot(float(right), float(up)) for right, up in places]
    called = set(suspects(shots, 1e-3 * distance_m * spread_mrad)) if wild else set()
    kept = [shot.up_m for number, shot in enumerate(shots) if number not in called]
    up = 1e-3 * distance_m * off_mrad + float(np.mean(kept))
    error = PlannedGroup(len(kept), spread_mrad).standard_error_m(distance_m)
    return Observation(distance_m, mark, READING_SD_MM, up, error, "group", session=session)


def main(bows: int = BOWS, only: str = "") -> None:
    """A row for each cell; only: those of one fault."""
    print(f"{bows} bows a cell; +- {100.0 * math.sqrt(0.95 * 0.05 / bows):.1f} % (one sd) at the last distance")
    print("day spread, mrad   marks   spread         fault   holds, %   at 95 m, %")
    cells: list[Cell] = [(*cell, "") for cell in product(DAYS_MRAD, LAYOUTS, (True, False))]
    cells += [(FAULT_DAY_MRAD, layout, True, fault) for fault, layout in product(FAULTS, LAYOUTS)]
    with ProcessPoolExecutor(max(os.cpu_count() or 1, 1)) as pool:
        for cell in cells if not only else [each for each in cells if each[3] == only]:
            part, last = np.mean(list(pool.map(held, range(bows), repeat(cell), chunksize=16)), axis=0)
            stated = "stated" if cell[2] else "not"
            line = f"{cell[0]:16.1f}   {cell[1]:>5}   {stated:>6}   {cell[3] or 'none':>11}"
            print(f"{line}   {100 * part:8.1f}   {100 * last:10.1f}", flush=True)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:2]), *sys.argv[2:3])
