"""What is measured on the photos of a rig: kept with the picture's own sum, looked at again, taken back."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.photos import log as readings_log
from cross_staff.core.photos.log import SUM_LETTERS, PhotoReading, entry_of, reading_of
from cross_staff.core.photos.plane import Disc, Point, Sheet
from cross_staff.core.photos.target import FoundHole, find_holes
from cross_staff.core.photos.vial import FoundBubble, find_bubble
from cross_staff.core.rig.log import BenchEntry, newest
from cross_staff.services import log
from cross_staff.services.rig import Rig
from cross_staff.storage import witness_marks
from cross_staff.storage.database import Database
from cross_staff.storage.witness_marks import Photo


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


def take_back(database: Database, rig: Rig, key: str, now: datetime) -> None:
    """Take the newest reading of a photo's use back; the log keeps it. Raises NotFound."""
    log.take_back(database, rig.rig_id, BenchEntry(readings_log.STATION, key, 1, now))


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


def bubble(photo: Photo, corners: Sequence[Point]) -> FoundBubble:
    """The bubble on a photo of a vial. Raises InvalidValue."""
    return find_bubble(_pixels(photo), corners)


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
