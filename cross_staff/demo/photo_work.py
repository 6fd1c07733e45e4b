"""Photos of the demo bench: a bow from the side at full draw, measured; a vial and a target to be read."""

from __future__ import annotations

import io
import math
from datetime import datetime

import numpy as np

from cross_staff.core.photos.log import PhotoReading
from cross_staff.core.photos.plane import Photo as Plane
from cross_staff.core.simulate.pictures import Array, Camera, SeenTarget, SeenVial
from cross_staff.services import photo_readings, photos
from cross_staff.services.mount import record as mount
from cross_staff.storage.database import Database

WIDTH, HEIGHT = 1200, 900
ARROW_M, ALONG_M, ANGLE_RAD = 0.72, 0.155, math.radians(39.0)
WALL, STRING, SHAFT, RISER, HEAD = (
    (0.83, 0.82, 0.78),
    (0.55, 0.16, 0.14),
    (0.12, 0.13, 0.15),
    (0.22, 0.27, 0.31),
    (0.72, 0.6, 0.5),
)
NOCK = (-0.40, -0.06)
PEEP = (NOCK[0] + ALONG_M * math.cos(ANGLE_RAD), NOCK[1] + ALONG_M * math.sin(ANGLE_RAD))
PLACES = {
    "nock": NOCK, "point": (NOCK[0] + ARROW_M, NOCK[1]), "peep": PEEP,
    "pin": (PEEP[0] + 0.84, PEEP[1] - 0.03), "eye": (PEEP[0] - 0.07, PEEP[1] + 0.002),
}  # fmt: skip


def side_view(right: Array, up: Array) -> Array:
    """A bow at full draw from the side, in its plane."""
    colours = np.ones((*right.shape, 3)) * np.array(WALL)

    def stroke(
        one: tuple[float, float], other: tuple[float, float], half: float, colour: tuple[float, float, float]
    ) -> None:
        along = (other[0] - one[0], other[1] - one[1])
        part = np.clip(
            ((right - one[0]) * along[0] + (up - one[1]) * along[1]) / (along[0] ** 2 + along[1] ** 2), 0.0, 1.0
        )
        near = np.hypot(right - one[0] - part * along[0], up - one[1] - part * along[1]) < half
        colours[near] = colour

    colours[np.hypot((right + 0.40) / 0.085, (up - 0.06) / 0.115) < 1.0] = HEAD
    tips = [(0.24, 0.42), (0.24, -0.46)]
    for tip in tips:
        stroke(NOCK, tip, 0.0016, STRING)
        stroke((0.36, 0.05 if tip[1] > 0 else -0.14), tip, 0.011, RISER)
    stroke((0.36, 0.05), (0.36, -0.14), 0.016, RISER)
    stroke((0.36, 0.03), (PLACES["pin"][0], 0.03), 0.006, RISER)
    stroke(NOCK, PLACES["point"], 0.0032, SHAFT)
    colours[np.abs(np.hypot(right - PLACES["pin"][0], up - PLACES["pin"][1]) - 0.026) < 0.003] = RISER
    for name, size in (("peep", 0.007), ("pin", 0.004), ("eye", 0.006)):
        colours[np.hypot(right - PLACES[name][0], up - PLACES[name][1]) < size] = SHAFT
    return colours


def take_photos(database: Database, rig_id: int, when: datetime) -> None:
    """A side picture of this bow, tapped and measured; a vial and a target beside it, to be tried."""
    rng = np.random.default_rng(23)
    camera = Camera(WIDTH, HEIGHT, 1.3, 0.04, -0.03, 0.05, 0.008, 0.9, 0.012)
    kept = mount.keep_photo(database, rig_id, photos.checked(_jpeg(camera.photo(side_view, rng))), when)
    taps = {
        name: ((float(x), float(y)),)
        for name, (x, y) in zip(PLACES, camera.on_photo(list(PLACES.values())), strict=True)
    }
    reading = PhotoReading(
        "peep", photo_readings.sum_of(database, rig_id, kept), Plane(WIDTH, HEIGHT), "line", (ARROW_M, 0.0),
        (taps["nock"][0], taps["point"][0]), taps,
    )  # fmt: skip
    photo_readings.keep(database, rig_id, reading, when)
    vial = Camera(WIDTH, HEIGHT, 0.062, 0.3, -0.2, 0.12, 0.01, 1.2, 0.02).photo(SeenVial(0.4, 1.8, lines=2).scene, rng)
    holes = ((0.031, 0.024), (-0.052, 0.047), (0.044, -0.066), (-0.013, -0.034), (0.004, 0.061), (0.009, 0.064))
    target = Camera(WIDTH, HEIGHT, 0.95, -0.2, 0.1, 0.03, 0.01, 0.9, 0.015).photo(SeenTarget(holes).scene, rng)
    for picture in (vial, target):
        mount.keep_photo(database, rig_id, photos.checked(_jpeg(picture)), when)


def _jpeg(picture: np.ndarray) -> bytes:
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(picture).save(out, "JPEG", quality=85)
    return out.getvalue()
