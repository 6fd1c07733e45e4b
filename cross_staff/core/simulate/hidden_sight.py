"""A sight whose aim, gains and flight are hidden, as they come: what its arrows do, and what moving it does."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import impact_heights, pin_height, sight_shift_at_target
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import Goals, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession as Readings
from cross_staff.core.rig.schools import SECOND
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import HAND_NOISE_MM, HAND_NOISE_PART, SIDEWAYS, MovementAdvice

HOME_M, PINS_M, FAR_M = 17.0, (26.0, 38.0, 47.0), 78.0
OFF_MM = 6.0  # sd of how far off a sight is that was set by eye
REVERSED, CALLED_BAD = 0.1, 0.03
GAIN_SD_LN = 0.3


def card_of(kind: str, figures: RigFigures, generator: np.random.Generator) -> RigCard:
    """A complete card of a rig with these hidden figures, measured as well as people measure."""
    readings = generator.normal(figures.speed_mps * math.exp(-figures.drag_per_m * 1.5), 0.35, 6)
    parts = (Component("Point", 0.0098, 0.724), Component("Nock", 0.0006, 0.0))
    build = ArrowBuild("slim", 0.72, 0.0168, 0.0058, parts)
    build = replace(build, sessions=(Readings(tuple(map(float, readings)), mass_kg=build.mass_kg()),))
    lever = figures.eye_to_sight_m + float(generator.normal(0.0, 0.003))
    height = figures.peep_height_m + float(generator.normal(0.0, 0.003))
    pins = PINS_M[:2] if KINDS[kind].asks(SECOND) else PINS_M
    goals = Goals(HOME_M, FAR_M, 0.30, 0.10, 38.0, (17.0, 26.0, 38.0, 47.0, 61.0, 78.0), pins)
    sight = KINDS[kind].template
    return RigCard(
        "simulated", "", builds=(build,), sight=sight, eye_to_sight_m=lever, peep=PeepEntry("square", height),
        ranged_from="sight", goals=goals,
    )  # fmt: skip


@dataclass
class HiddenSight:
    """What nobody sees: the flight, how far the aim is off sideways [mm at the sight plane], each pin's
    height above the arrow line at the reading nought [m], and what each control really does."""

    figures: RigFigures
    card: RigCard
    generator: np.random.Generator
    right_mm: float
    heights_m: list[float]
    spread_mrad: float
    travels_per_unit: dict[str, float] = field(default_factory=dict)
    called_bad: float = CALLED_BAD

    @classmethod
    def drawn(cls, kind: str, generator: np.random.Generator) -> HiddenSight:
        """A rig as they come, its sight set by eye; the archer's spread is not what he says it is."""
        figures = RigFigures(
            float(generator.uniform(68.0, 88.0)),
            float(0.0015 * math.exp(generator.normal(0.0, 0.2))),
            float(generator.uniform(0.74, 0.88)),
            float(generator.uniform(0.094, 0.112)),
        )
        card = card_of(kind, figures, generator)
        off = float(generator.normal(0.0, OFF_MM))
        top = pin_height(figures, HOME_M) + 1e-3 * float(generator.normal(0.0, OFF_MM))
        apart = float(generator.uniform(0.7, 1.3))
        true = [pin_height(figures, HOME_M) - pin_height(figures, d) for d in (HOME_M, *PINS_M)]
        heights = [top - apart * below for below in true]
        usual = card.goals.spread_mrad or 1.0
        spread = usual * math.exp(float(generator.normal(0.0, 0.2)))
        return cls(figures, card, generator, off, heights, spread)

    def shoot(self, pin: int, ranged_m: float, arrows: int, dial_mm: float | None) -> tuple[Shot, ...]:
        """Arrows shot at a distance, the sight as it stands, dialled to a reading."""
        set_to = (dial_mm or 0.0) + (float(self.generator.normal(0.0, 0.1)) if dial_mm else 0.0)
        height = self.heights_m[pin] - 1e-3 * set_to
        up = float(impact_heights(self.figures, height, ranged_m)[0])
        right = 1e-3 * self.right_mm * float(sight_shift_at_target(self.figures.eye_to_sight_m, ranged_m))
        sd = 1e-3 * self.spread_mrad * ranged_m
        return tuple(self._arrow(right, up, sd) for _ in range(arrows))

    def _arrow(self, right: float, up: float, sd: float) -> Shot:
        bad = self.generator.random() < self.called_bad
        wide = 4.0 if bad else 1.0
        return Shot(
            float(np.clip(self.generator.normal(right, wide * sd), -1.9, 1.9)),
            float(np.clip(self.generator.normal(up, wide * sd), -1.9, 1.9)),
            bad,
        )

    def move(self, advice: MovementAdvice) -> None:
        """Move a control as it was said, with what hands and threads make of it."""
        drive = advice.drive
        if drive.name not in self.travels_per_unit:
            spread = GAIN_SD_LN if drive.per_unit_mm is None else 0.03
            sign = -1.0 if not drive.sure_way and self.generator.random() < REVERSED else 1.0
            self.travels_per_unit[drive.name] = (
                sign * drive.travel_per_unit().size * math.exp(self.generator.normal(0.0, spread))
            )
        made = self.travels_per_unit[drive.name] * advice.amount
        noise = 0.02 if drive.unit == "click" else math.hypot(HAND_NOISE_MM, HAND_NOISE_PART * made)
        made += float(self.generator.normal(0.0, noise))
        if drive.moves in SIDEWAYS:
            self.right_mm -= made
        elif drive.moves == "pin" and advice.pin is not None:
            self.heights_m[advice.pin] += 1e-3 * made
        elif drive.moves == "spread":
            below = [self.heights_m[0] - h for h in self.heights_m]
            part = 1e-3 * made / below[-1]
            self.heights_m = [h + part * b for h, b in zip(self.heights_m, below)]
        else:
            self.heights_m = [h + 1e-3 * made for h in self.heights_m]

    def place(self, pin: int, below_mm: float) -> None:
        """Set a pin below the top one with a rule."""
        self.heights_m[pin] = self.heights_m[0] - 1e-3 * (below_mm + float(self.generator.normal(0.0, 0.4)))

    def off_spreads(self, aim: Aim, dial_mm: float | None) -> float:
        """How far the true middle of the arrows is from the aim, in the archer's spreads."""
        quiet = replace(self, spread_mrad=0.0, generator=np.random.default_rng(0))
        height = quiet.heights_m[aim.pin] - 1e-3 * (dial_mm or 0.0)
        up = float(impact_heights(self.figures, height, aim.ranged_m)[0])
        right = 1e-3 * self.right_mm * float(sight_shift_at_target(self.figures.eye_to_sight_m, aim.ranged_m))
        return math.hypot(right, up) / (1e-3 * self.spread_mrad * aim.ranged_m)
