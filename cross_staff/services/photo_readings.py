"""What is measured on the photos of a rig: kept with the picture's own sum, looked at again, taken back."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level.vials import bubble_between
from cross_staff.core.photos import log as readings_log
from cross_staff.core.photos.log import SUM_LETTERS, PhotoReading, entry_of, reading_of
from cross_staff.core.photos.plane import Disc, Figure, Point, Sheet, places
from cross_staff.core.photos.plane import Photo as Plane
from cross_staff.core.photos.target import FoundHole, find_holes
from cross_staff.core.photos.uses import PinSeen
from cross_staff.core.photos.uses import pins_against as pins_seen
from cross_staff.core.photos.vial import FoundBubble, along_glass, find_bubble, on_glass
from cross_staff.core.rig.log import BenchEntry, newest
from cross_staff.services import log
from cross_staff.services.rig import Rig
from cross_staff.storage import witness_marks
from cross_staff.storage.database import Database
from cross_staff.storage.witness_marks import Photo

LEAST_GLASS, LEAST_POINTS = 0.02, 10.0  # between two lines: of the glass, or points of a photo that is not straightened


@dataclass(frozen=True)
class KeptReading:
    """A photo that was measured: its entry in the log, what it was, and its id here; None for a picture that is not."""

    entry: BenchEntry
    reading: PhotoReading
    photo_id: int | None


def sum_of(database: Database, rig_id: int, photo_id: int) -> str:
    """The letters by which a photo is known wherever its rig goes. Raises NotFound."""
    with database.reading() as connection:
        sums = witness_marks.photo_sums(connection, rig_id)
    if photo_id not in sums:
        raise NotFound(f"rig {rig_id} has no photo {photo_id}")
    return sums[photo_id][:SUM_LETTERS]


def keep(database: Database, rig_id: int, reading: PhotoReading, now: datetime) -> None:
    """Keep what was measured, beside what was measured before. Raises NotFound; InvalidValue."""
    log.enter(database, rig_id, entry_of(reading, 1, now))


def take_back(database: Database, rig: Rig, key: str, entry_id: int, now: datetime) -> bool:
    """Take the newest reading of a photo's use back, as it was shown; the log keeps it. False where somebody measured
    or took back meanwhile: then nothing is taken back."""
    held = newest(rig.log_of(readings_log.STATION)).get(key)
    if held is None or held.entry_id != entry_id:
        return False
    log.take_back(database, rig.rig_id, BenchEntry(readings_log.STATION, key, 1, now))
    return True


def readings(database: Database, rig: Rig) -> list[KeptReading]:
    """Every photo that was measured, by its newest reading for each use, the newest first."""
    with database.reading() as connection:
        ids = {
            each[:SUM_LETTERS]: photo_id for photo_id, each in witness_marks.photo_sums(connection, rig.rig_id).items()
        }
    kept = []
    for entry in sorted(
        newest(rig.log_of(readings_log.STATION)).values(), key=lambda each: each.entry_id, reverse=True
    ):
        reading = reading_of(entry)
        kept.append(KeptReading(entry, reading, ids.get(reading.sum)))
    return kept


def photo_ids(database: Database, rig_id: int) -> list[int]:
    """Every photo of a rig that is here, the newest first."""
    with database.reading() as connection:
        return sorted(witness_marks.photo_ids(connection, rig_id), reverse=True)


def pins_against(rig: Rig, figures: Mapping[str, Figure]) -> list[PinSeen]:
    """The pins of a photo against where the tape so far has them; empty where none tells."""
    places = rig.stack.pins if rig.stack else ()

    def metres(mm: float | None) -> float | None:
        return None if mm is None else mm / 1000.0

    return pins_seen(figures, [(metres(place.below_mm), metres(place.sd_mm)) for place in places])


def bubble(photo: Photo, corners: Sequence[Point]) -> tuple[FoundBubble, list[Point]]:
    """The bubble on a photo of a vial; and its lines and ends, as far as they were found, as points of the photo.
    Raises InvalidValue."""
    found = find_bubble(_pixels(photo), corners)
    return found, on_glass(corners, [*(found.lines or ()), *(found.ends or ())])


def bubble_stands(photo: Photo, corners: Sequence[Point], marks: Sequence[Point], lines: float) -> float:
    """Where a bubble stands [lines, right positive], of its two lines and its two ends as they were tapped; `lines`,
    how far those stand from the middle. Raises InvalidValue at `scale` or `right_line`."""
    left, right, one, other = along_glass(Plane(photo.width, photo.height), corners, marks)
    if right - left < (LEAST_GLASS if corners else LEAST_POINTS):
        raise InvalidValue("right_line", "the two lines stand on one another, or the left one right of the other")
    return bubble_between(left, right, lines, one, other)


def shots(photo: Photo, scale: Sheet | Disc, holes: Sequence[Point], aim: Sequence[Point]) -> list[tuple[float, float]]:
    """Holes on a photo of a target as shots, right and up [m] of the aim, or of the middle where none was tapped.
    Raises InvalidValue at `scale`."""
    seen = places(Plane(photo.width, photo.height), scale, [*holes, *aim])
    middle = seen[-1] if aim else np.zeros(2)
    return [(float(x), float(y)) for x, y in seen[: len(holes)] - middle]


def figures_of(rig: Rig, key: str, use: str) -> dict[str, Figure]:
    """The newest figures of a photo that was measured for a use, by its key; nothing for another key."""
    entry = newest(rig.log_of(readings_log.STATION)).get(key) if key.startswith(f"{use}:") else None
    return {} if entry is None else reading_of(entry).figures()


def holes(photo: Photo, scale: Sheet | Disc, shaft_m: float) -> list[FoundHole]:
    """The holes on a photo of a target. Raises InvalidValue."""
    return find_holes(_pixels(photo), scale, shaft_m)


def _pixels(photo: Photo) -> NDArray[np.uint8]:
    from PIL import Image

    try:
        with Image.open(io.BytesIO(photo.jpeg), formats=("JPEG",)) as picture:
            return np.asarray(picture.convert("RGB"))
    except OSError as error:
        raise InvalidValue("photo", "its picture is not in this shop: find nothing on it, tap by hand") from error
