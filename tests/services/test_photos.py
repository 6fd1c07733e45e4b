"""Pictures that come in: what may, how large, and what is kept of them."""

from __future__ import annotations

import io
import struct
import tracemalloc
import unittest
import zlib

from PIL import Image

from cross_staff.core.errors import InvalidValue
from cross_staff.services.photos import LONGEST_SIDE, MOST_PIXELS, checked


def flat_png(width: int, height: int) -> bytes:
    """A small file of a large picture, one grey, made without ever holding it."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    packer, row = zlib.compressobj(9), b"\0" + b"\x80" * width
    packed = b"".join(packer.compress(row) for _ in range(height)) + packer.flush()
    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


class Photos(unittest.TestCase):
    def test_too_many_points_are_refused_before_they_are_unpacked(self) -> None:
        data = flat_png(10_000, 6_000)
        self.assertLess(len(data), 300_000)
        tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        with self.assertRaisesRegex(InvalidValue, "10000 by 6000 points"):
            checked(data)
        self.assertLess(tracemalloc.get_traced_memory()[1], 20_000_000)

    def test_as_many_as_are_allowed_are_taken_and_made_small(self) -> None:
        side = int(MOST_PIXELS**0.5)
        photo = checked(flat_png(side, side))
        self.assertEqual((photo.width, photo.height), (LONGEST_SIDE, LONGEST_SIDE))

    def test_a_picture_on_its_side_is_turned_upright(self) -> None:
        out = io.BytesIO()
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter
        Image.new("RGB", (3000, 1000), "white").save(out, "JPEG", exif=exif)
        photo = checked(out.getvalue())
        self.assertEqual((photo.width, photo.height), (533, 1600))

    def test_what_is_no_picture_is_said(self) -> None:
        for data in (b"", b"GIF89a", b"\x89PNG\r\n\x1a\n" + b"x" * 50, flat_png(20, 20)[:-30]):
            with self.subTest(data[:8]), self.assertRaises(InvalidValue):
                checked(data)


if __name__ == "__main__":
    unittest.main()
