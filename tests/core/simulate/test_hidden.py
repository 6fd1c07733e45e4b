"""The hidden rigs of all benchmarks stay the same, else figures of two versions cannot be compared."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import MovementAdvice, range_controls
from cross_staff.core.simulate.bench import HiddenAxis
from cross_staff.core.simulate.hidden_sight import HiddenSight
from cross_staff.core.simulate.rig import VirtualRig
from cross_staff.core.simulate.tape_trial import by_hand, draw
from tests.kept import WithKept
from tests.rigs import RIG_A

KEPT = Path(__file__).parent / "hidden.json"


def sight(kind: str, seed: int) -> list[Any]:
    """What a hidden sight is, what it does when every control is moved, and where its arrows go."""
    hidden = HiddenSight.drawn(kind, np.random.default_rng(seed))
    told: list[Any] = [*vars(hidden.figures).values(), hidden.spread_mrad, hidden.right_mm, *hidden.heights_m]
    told += [hidden.card.eye_to_sight_m, hidden.card.peep.square_m, *hidden.card.chronograph.readings_mps]
    for drive in range_controls(hidden.card.sight):
        hidden.move(MovementAdvice(drive, "", 0.0, 3.0, pin=1 if drive.moves == "pin" else None))
        told += [drive.name, hidden.right_mm, *hidden.heights_m]
    hidden.place(1, 4.0)
    told += hidden.heights_m
    for dial in (None, 0.0, 20.0):
        told += [v for s in hidden.shoot(0, 26.0, 12, dial) for v in (s.right_m, s.up_m, s.called_bad)]
        told.append(hidden.off_spreads(Aim(1, 26.0), dial))
    return told


def axis(seed: int) -> list[Any]:
    """What a hidden axis is, and where turns to and fro leave it."""
    hidden = HiddenAxis.drawn(np.random.default_rng(seed))
    told: list[Any] = [hidden.error_rad, hidden.gain_rad, hidden.look()]
    for turns in (0.25, 0.5, -0.25, -0.05, 1.0):
        hidden.turn(turns)
        told += [hidden.error_rad, hidden.look()]
    return told


def bow(seed: int, wider: float = 1.0) -> list[Any]:
    """What a bow that needs a tape is, its card, its arrows, and its tape by hand."""
    trial = draw(seed, wider)
    told: list[Any] = [*vars(trial.true).values(), trial.spread_mrad, trial.mark(95.0), trial.card.goals.group_size_m]
    told += [part for name in ("speed_mps", "drag_per_m", "eye_to_sight_m", "peep_height_m")
             for part in vars(getattr(trial.priors, name)).values()]  # fmt: skip
    told += [v for s in trial.shots(61.0, trial.mark(60.0), 3) for v in (s.right_m, s.up_m)]
    return [*told, by_hand(draw(seed, wider), 18), by_hand(draw(seed, wider), 5)]


def group() -> list[Any]:
    """A group of a rig with hidden figures, and its chronograph."""
    generator, rig = np.random.default_rng(5), VirtualRig(RIG_A, 17.0, 20.0, 1.3, 0.2)
    made = rig.shoot(generator, 61.0, rig.mark(60.0), 6)
    return [*vars(made).values(), *rig.chronograph(generator, 3, 1.5, 0.4), VirtualRig(RIG_A, 17.0, 20.0).spread_mrad]


class Same(WithKept):
    def test_they_are_as_they_were(self) -> None:
        now: dict[str, Any] = {f"{kind} {seed}": sight(kind, seed) for kind in KINDS for seed in (1, 2)}
        now |= {f"axis {seed}": axis(seed) for seed in range(6)}
        now |= {f"bow {seed} {wider:g}": bow(seed, wider) for seed in (1, 2) for wider in (1.0, 1.5)}
        self.assert_kept(KEPT, now | {"group": group()})


class AsTheyCome(WithKept):
    def test_no_arrow_comes_in_off_the_butt(self) -> None:
        """However wide somebody shoots, 1.9 m either way."""
        hidden = replace(HiddenSight.drawn("single_pin_slider", np.random.default_rng(1)), spread_mrad=40.0)
        shots = hidden.shoot(0, 60.0, 200, None)
        for name in ("right_m", "up_m"):
            places = [getattr(shot, name) for shot in shots]
            self.assertEqual((min(places), max(places)), (-1.9, 1.9))

    def test_one_knob_in_four_is_reversed_and_axes_lie_within_two_and_a_half_degrees(self) -> None:
        drawn = [HiddenAxis.drawn(np.random.default_rng(seed)) for seed in range(2000)]
        self.assertAlmostEqual(np.mean([each.gain_rad < 0.0 for each in drawn]), 0.25, delta=0.03)
        errors = np.degrees([each.error_rad for each in drawn])
        self.assertTrue(2.4 < np.max(np.abs(errors)) <= 2.5)
        looks = np.array([drawn[0].look() for _ in range(4000)])
        self.assertAlmostEqual(math.degrees(float(np.std(looks))), 0.05, delta=0.003)

    def test_one_sight_in_ten_turns_the_other_way_where_its_card_was_not_checked(self) -> None:
        signs = []
        for seed in range(400):
            hidden = HiddenSight.drawn("single_pin_slider", np.random.default_rng(seed))
            drive = next(d for d in range_controls(hidden.card.sight) if not d.sure_way)
            hidden.move(MovementAdvice(drive, "", 0.0, 1.0))
            signs.append(hidden.travels_per_unit[drive.name] < 0.0)
        self.assertAlmostEqual(np.mean(signs), 0.1, delta=0.04)
