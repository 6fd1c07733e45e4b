"""Photos of flat scenes as a phone would take them: aslant, through a lens that bends, with noise.

A scene is a function of places in its plane, right and up [m], that gives colours [0 to 1]; the camera looks at it from
where it was held.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

Array = NDArray[np.float64]
FOCAL = 1.2  # of a phone's camera, in widths of its picture
Scene = Callable[[Array, Array], Array]


@dataclass(frozen=True)
class Camera:
    """A phone's camera: the picture's size [points]; what it shows across [m] at its middle; how far it is turned aside
    and up, and rolled [rad]; by which part its lens moves the corners; how much it blurs [points] and its noise."""

    width: int
    height: int
    across_m: float
    aside_rad: float = 0.0
    up_rad: float = 0.0
    rolled_rad: float = 0.0
    lens: float = 0.0
    blur: float = 0.8
    noise: float = 0.02

    @property
    def _far(self) -> float:
        """From the camera to the middle of the scene [m]."""
        return FOCAL * self.across_m

    def _axes(self) -> Array:
        """The camera's right, down and forward in the scene's right, down and away (3, 3)."""
        (ca, sa), (cu, su) = ((math.cos(a), math.sin(a)) for a in (self.aside_rad, self.up_rad))
        cr, sr = math.cos(self.rolled_rad), math.sin(self.rolled_rad)
        aside = np.array([[ca, 0.0, -sa], [0.0, 1.0, 0.0], [sa, 0.0, ca]])
        up = np.array([[1.0, 0.0, 0.0], [0.0, cu, su], [0.0, -su, cu]])
        return np.array([[cr, sr, 0.0], [-sr, cr, 0.0], [0.0, 0.0, 1.0]]) @ up @ aside

    def on_photo(self, places: Sequence[tuple[float, float]] | Array) -> Array:
        """Places (n, 2) [m] as points of the photo (n, 2)."""
        flat = np.array(places, dtype=float).reshape(-1, 2)
        axes = self._axes()
        there = np.column_stack([flat[:, 0], -flat[:, 1], np.zeros(len(flat))]) + self._far * axes[2]
        seen = there @ axes.T
        even = FOCAL * self.width * seen[:, :2] / seen[:, 2:]
        bent = even * (1.0 + self.lens * np.sum(even**2, axis=1, keepdims=True) / self._corner2)
        return bent + np.array([self.width, self.height]) / 2.0

    @property
    def _corner2(self) -> float:
        return (self.width**2 + self.height**2) / 4.0

    def photo(self, scene: Scene, rng: np.random.Generator) -> NDArray[np.uint8]:
        """The photo (height, width, 3) of a scene."""
        across, down = np.meshgrid(np.arange(self.width) + 0.5, np.arange(self.height) + 0.5)
        bent = np.stack([across - self.width / 2.0, down - self.height / 2.0])
        even = bent.copy()
        for _ in range(6):  # the lens, undone
            even = bent / (1.0 + self.lens * np.sum(even**2, axis=0) / self._corner2)
        rays = np.stack([even[0], even[1], np.full_like(across, FOCAL * self.width)])
        axes = self._axes()
        away = np.tensordot(axes.T, rays, 1)
        stands = -self._far * axes[2]
        reach = -stands[2] / away[2]
        right, lower = stands[0] + away[0] * reach, stands[1] + away[1] * reach
        colours = scene(right, -lower)
        blurred = ndimage.gaussian_filter(colours, (self.blur, self.blur, 0.0))
        noisy = blurred + self.noise * rng.standard_normal(blurred.shape)
        return (255.0 * np.clip(noisy, 0.0, 1.0) + 0.5).astype(np.uint8)


@dataclass(frozen=True)
class SeenVial:
    """A vial in its plane: `bubble`, where its middle stands [lines], how long it is [lines]; how far the lines stand
    apart [m], on each side; its glass [m]; the colours of fluid, bubble and frame; how far its path bends [1/m]; a
    strip of glare from `glare` on along the glass [-1 to 1], None without."""

    bubble: float
    length: float = 1.6
    spacing_m: float = 0.006
    lines: int = 1
    width_m: float = 0.034
    height_m: float = 0.009
    fluid: tuple[float, float, float] = (0.72, 0.85, 0.2)
    clear: tuple[float, float, float] = (0.88, 0.94, 0.6)
    frame: tuple[float, float, float] = (0.12, 0.12, 0.13)
    bend_per_m: float = 0.0
    glare: float | None = None

    @property
    def corners(self) -> list[tuple[float, float]]:
        """The glass, clockwise from its upper left [m]."""
        w, h = self.width_m / 2.0, self.height_m / 2.0
        return [(-w, h), (w, h), (w, -h), (-w, -h)]

    def scene(self, right: Array, up: Array) -> Array:
        """Colours of places in its plane."""
        up = up + self.bend_per_m * right**2
        inside = (np.abs(right) < self.width_m / 2.0) & (np.abs(up) < self.height_m / 2.0)
        round_off = 1.0 - 0.45 * (2.0 * up / self.height_m) ** 2  # a tube: darker towards its edges
        colours = np.where(inside[..., None], np.array(self.fluid) * round_off[..., None], np.array(self.frame))
        reach = np.hypot(
            (right - self.bubble * self.spacing_m) / (self.length * self.spacing_m / 2.0), up / (0.36 * self.height_m)
        )
        clear = np.array(self.clear) * (0.75 + 0.25 * round_off)[..., None]
        colours = np.where((inside & (reach < 1.0))[..., None], clear, colours)
        rim = inside & (reach < 1.0) & (reach > 0.84)
        colours = np.where(rim[..., None], 0.45 * np.array(self.fluid), colours)
        for line in range(1, self.lines + 1):
            for side in (-1, 1):
                on = inside & (np.abs(right - side * line * self.spacing_m) < 0.00028)
                colours = np.where(on[..., None], 0.08, colours)
        if self.glare is not None:
            lit = np.exp(-(((up / self.height_m - 0.22) / 0.05) ** 2)) * (
                np.abs(right / self.width_m * 2.0 - self.glare) < 0.5
            )
            colours = colours + (0.55 * lit * inside)[..., None]
        return np.clip(colours, 0.0, 1.0)


@dataclass(frozen=True)
class SeenTarget:
    """A square sheet with a round face on it: rings of several colours, and holes (right, up) [m] of shafts."""

    holes: tuple[tuple[float, float], ...]
    side_m: float = 0.6
    face_m: float = 0.4
    shaft_m: float = 0.006
    rings: tuple[tuple[float, float, float], ...] = (
        (0.95, 0.9, 0.3),
        (0.9, 0.3, 0.25),
        (0.35, 0.6, 0.9),
        (0.97, 0.97, 0.95),
    )

    @property
    def corners(self) -> list[tuple[float, float]]:
        """The sheet, clockwise from its upper left [m]."""
        half = self.side_m / 2.0
        return [(-half, half), (half, half), (half, -half), (-half, -half)]

    @property
    def quarters(self) -> list[tuple[float, float]]:
        """The face at twelve, three, six and nine o'clock [m]."""
        half = self.face_m / 2.0
        return [(0.0, half), (half, 0.0), (0.0, -half), (-half, 0.0)]

    def scene(self, right: Array, up: Array) -> Array:
        """Colours of places in its plane."""
        half = self.side_m / 2.0
        on = (np.abs(right) < half) & (np.abs(up) < half)
        colours = np.where(on[..., None], np.array((0.96, 0.95, 0.92)), np.array((0.45, 0.36, 0.25)))
        away = np.hypot(right, up)
        for number in range(len(self.rings), 0, -1):
            edge = number * self.face_m / 2.0 / len(self.rings)
            colours = np.where((away < edge)[..., None], np.array(self.rings[number - 1]), colours)
            colours = np.where((np.abs(away - edge) < 0.0006)[..., None], 0.15, colours)
        colours = np.where((on & (np.abs(right) < 0.0005))[..., None], 0.3, colours)  # the plumb line
        colours = colours * (0.9 + 0.1 * right / self.side_m)[..., None]  # light from one side
        for x, y in self.holes:
            there = np.hypot(right - x, up - y)
            colours = np.where((there < 0.62 * self.shaft_m)[..., None], colours * 0.5 + 0.5, colours)  # torn fibres
            colours = np.where((there < 0.5 * self.shaft_m)[..., None], 0.06, colours)
        return np.clip(colours, 0.0, 1.0)
