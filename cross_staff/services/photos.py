"""Photos that come in: checked, turned upright, made small, and stripped of what the camera wrote."""

from __future__ import annotations

import io
import threading

from cross_staff.core.errors import InvalidValue
from cross_staff.storage.witness_marks import Photo

FORMATS = ("PNG", "JPEG", "WEBP")
MOST_BYTES = 12 * 1024 * 1024
MOST_PIXELS = 40_000_000
LONGEST_SIDE = 1600
_QUALITY = 82
_ONE_AT_A_TIME = threading.Lock()


def checked(data: bytes, field: str = "photo") -> Photo:
    """A photo fit to be kept, from the bytes of a PNG, JPEG or WebP file.

    The size is read off the file's head before anything is unpacked; a JPEG is unpacked no larger than
    it is kept, and one picture after the other, so that many at once take no more room than one.

    Raises: InvalidValue for what is not such a picture, or is too large.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    if len(data) > MOST_BYTES:
        raise InvalidValue(field, f"is larger than {MOST_BYTES // 1024 // 1024} MB: send a smaller picture")
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise InvalidValue(field, f"has {picture.width} by {picture.height} points, which is too many")
            with _ONE_AT_A_TIME:
                picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
                picture.thumbnail((LONGEST_SIDE, LONGEST_SIDE))  # small first: what follows copies it
                upright = ImageOps.exif_transpose(picture).convert("RGB")
                out = io.BytesIO()
                upright.save(out, "JPEG", quality=_QUALITY)  # only the points: no place, no time, no camera
    except InvalidValue:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise InvalidValue(field, "is not a PNG, JPEG or WebP picture that can be read") from error
    return Photo(out.getvalue(), upright.width, upright.height)


def size_of(jpeg: bytes) -> tuple[int, int] | None:
    """Width and height of a JPEG in points, off its head; None for what is none, or is larger than any that is kept."""
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(jpeg), formats=("JPEG",)) as picture:
            return picture.size if max(picture.size) <= LONGEST_SIDE else None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
