"""What was measured on photos, as entries of a rig's log: the taps themselves, so that anybody can look again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Figure, Photo, Point, Scale
from cross_staff.core.photos.uses import SHEET, USES, measure, scale_of
from cross_staff.core.rig.log import BenchEntry

STATION = "photos"
NONE: Point = (-1.0, -1.0)  # a place that may be left out, and was
SUM_LETTERS = 20  # of the picture's own sum, by which it is known wherever it goes


@dataclass(frozen=True)
class PhotoReading:
    """A photo measured for one use: the letters of the picture's sum, its size, the kind of scale with its lengths [m]
    and its taps, the taps of each place [points]."""

    use: str
    sum: str
    photo: Photo
    kind: str
    lengths_m: tuple[float, ...]
    scale_taps: tuple[Point, ...]
    taps: Mapping[str, Sequence[Point]]

    @property
    def scale(self) -> Scale:
        return scale_of(self.kind, self.scale_taps, self.lengths_m)

    def figures(self) -> dict[str, Figure]:
        """What it comes to [m, rad], by name. Raises InvalidValue."""
        return measure(self.use, self.photo, self.scale, self.taps)


def entry_of(reading: PhotoReading, revision: int, now: datetime) -> BenchEntry:
    """A reading as it is kept. Raises InvalidValue for one that cannot be measured."""
    reading.figures()
    points: list[Point] = [(float(reading.photo.width), float(reading.photo.height))]
    points.append((reading.lengths_m[0], reading.lengths_m[1] if reading.kind == SHEET else 0.0))
    points += reading.scale_taps
    for tap in USES[reading.use].taps:
        points += tuple(reading.taps.get(tap.key, ())) or (NONE,)
    return BenchEntry(STATION, f"{reading.use}:{reading.sum}", revision, now, None, reading.kind, tuple(points))


def reading_of(entry: BenchEntry) -> PhotoReading:
    """An entry as the reading that it was. Raises InvalidValue for one that is none."""
    use, _, name = entry.key.partition(":")
    if use not in USES or not name:
        raise InvalidValue("key", "is no use of a photo")
    count = 2 if entry.choice == "line" else 4
    if len(entry.points) < 3 + count or not all(1 <= side <= 20000 for side in entry.points[0]):
        raise InvalidValue("points", "are too few for a photo that was measured")
    (width, height), lengths = entry.points[:2]
    scale_taps, rest = entry.points[2 : 2 + count], list(entry.points[2 + count :])
    taps: dict[str, tuple[Point, ...]] = {}
    for tap in USES[use].taps:
        own = tuple(rest) if tap.many else tuple(rest[:1])
        rest = [] if tap.many else rest[1:]
        taps[tap.key] = tuple(each for each in own if each != NONE)
    if rest:
        raise InvalidValue("points", "are too many for a photo that was measured")
    photo = Photo(int(width), int(height))
    return PhotoReading(use, name, photo, entry.choice, tuple(lengths), tuple(scale_taps), taps)


def check_entry(entry: BenchEntry) -> None:
    """Refuse an entry that is no measured photo. Raises InvalidValue."""
    if not entry.removed:
        reading_of(entry).figures()
