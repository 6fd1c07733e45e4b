"""The lines of the instruments: what is taken, what is refused, what is cut."""

import contextlib
import io
import json
import math
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.chronograph import same_shot
from cross_staff.core.rig.taken import GIVES
from cross_staff.devices.address import OUTSIDE, address_of, within
from cross_staff.devices.line_feed import LineFeed
from cross_staff.devices.protocol import (
    MOST_LINE,
    UNITS,
    BadLine,
    Hello,
    Reading,
    Status,
    Trouble,
    line_of,
    parse,
    schema,
)

READING = {"type": "reading", "kind": "speed", "value": 81.2, "unit": "m/s", "resolution": 0.1, "time": 3.5,
           "sequence": 4}  # fmt: skip
DOCS = Path(__file__).parents[2] / "docs"


def told(**changes: object) -> bytes:
    return json.dumps(READING | changes).encode()


class Lines(unittest.TestCase):
    def test_each_kind_of_line_is_read(self) -> None:
        self.assertEqual(parse(told()), Reading(**{k: v for k, v in READING.items() if k != "type"}))  # type: ignore[arg-type]
        self.assertEqual(parse(b'{"type": "hello", "protocol": "x/9"}'), Hello(protocol="x/9"))
        self.assertEqual(parse(b'{"type": "status", "state": "warming"}'), Status(state="warming"))
        self.assertEqual(parse(b'{"type": "error", "says": "no light"}'), Trouble(says="no light"))
        self.assertEqual(parse(told(colour="later")), parse(told()))

    def test_figures_come_in_si(self) -> None:
        for kind, value, unit, si in (
            ("speed", 81.2, "m/s", 81.2), ("pitch", -35, "deg", math.radians(-35)), ("mass", 26.7, "g", 0.0267),
            ("length", 6.5, "mm", 0.0065), ("distance", 38, "m", 38.0),
        ):  # fmt: skip
            read = parse(told(kind=kind, value=float(value), unit=unit))
            self.assertAlmostEqual(read.si, si, places=12)  # type: ignore[union-attr]

    def test_what_is_not_of_the_protocol_says_why(self) -> None:
        for line, why in (
            (b"E04", "not json"), (b"[]", "object"), (b"", "not json"), (b"\xff\xfe{}", "not json"),
            (told(value=math.nan), "no number"), (told(value=math.inf), "no number"), (told(value=1e300), "value"),
            (told(value=81.2).replace(b"81.2", b"1e999"), "value"),
            (told(value="81"), "value"), (told(unit="fps"), "a speed is sent in m/s"), (told(unit="deg"), "m/s"),
            (told(kind="wind"), "kind"), (told(type="greeting"), "type"), (told(sequence=-1), "sequence"),
            (told(sequence=1.5), "sequence"), (told(time=-1.0), "time"), (told(resolution=0.0), "resolution"),
            (b"[" * 3000, "not json"), (b" " * (MOST_LINE + 1), "longer"), (b'{"type": "error"}', "says"),
        ):  # fmt: skip
            with self.subTest(line[:60]), self.assertRaises(BadLine) as refused:
                parse(line)
            self.assertIn(why, str(refused.exception).lower())

    @given(st.binary(max_size=300))
    def test_no_bytes_do_anything_else(self, line: bytes) -> None:
        with contextlib.suppress(BadLine):
            parse(line)

    def test_a_line_comes_back_as_it_went(self) -> None:
        for message in (Hello(protocol="p", name="n", kind="scale"), Status(state="ready"), parse(told())):
            self.assertEqual(parse(line_of(message).rstrip(b"\n")), message)

    def test_every_figure_has_its_instrument_and_its_unit(self) -> None:
        self.assertEqual({figure for figures in GIVES.values() for figure in figures}, set(UNITS))

    def test_the_schema_in_the_docs_is_that_of_the_program(self) -> None:
        self.assertEqual(json.loads((DOCS / "files" / "instrument-line.schema.json").read_text()), schema())
        told = (DOCS / "instruments.md").read_text().split("```json\n")[1].split("```")[0]
        self.assertEqual(json.loads(told), schema())

    def test_the_ten_lines_of_the_docs_speak_the_protocol(self) -> None:
        code = (DOCS / "instruments.md").read_text().split("```python\n")[1].split("```")[0]
        self.assertEqual(len([line for line in code.splitlines() if line.strip()]), 10)
        names: dict[str, Any] = {}
        exec(code.rsplit("\n\n\n", 1)[0], names)  # noqa: S102
        scale, sent = names["Scale"].__new__(names["Scale"]), io.BytesIO()
        scale.wfile = sent
        with mock.patch("time.sleep", side_effect=[None, KeyboardInterrupt]), self.assertRaises(KeyboardInterrupt):
            scale.handle()
        lines = [parse(line) for line in sent.getvalue().splitlines()]
        self.assertEqual([type(line) for line in lines], [Hello, Reading])


class Feed(unittest.TestCase):
    def test_lines_are_cut_wherever_the_pieces_end(self) -> None:
        whole = b"one\r\ntwo\n\n  \nthree\nfo"
        for size in range(1, len(whole) + 1):
            feed = LineFeed()
            lines = [line for at in range(0, len(whole), size) for line in feed.feed(whole[at : at + size])]
            self.assertEqual((lines, feed.too_long), ([b"one", b"two", b"three"], 0))

    def test_ten_megabytes_without_an_end_are_passed_over_and_the_next_line_is_read(self) -> None:
        feed = LineFeed()
        for _ in range(160):
            self.assertEqual(feed.feed(b"x" * 65536), [])
            self.assertLessEqual(len(feed._rest), MOST_LINE)
        self.assertEqual((feed.feed(b"x\nnext\n"), feed.too_long), ([b"next"], 1))
        self.assertEqual(feed.feed(b"y" * (MOST_LINE + 1) + b"\nshort\n"), [b"short"])


class Addresses(unittest.TestCase):
    def test_addresses_of_the_shop(self) -> None:
        for typed, shown in (
            ("192.168.1.20:7001", "192.168.1.20:7001"), (" Bench-Scale.local:7001 ", "bench-scale.local:7001"),
            ("[fe80::1]:80", "[fe80::1]:80"), ("localhost:1", "localhost:1"), ("::1:7001", "[::1]:7001"),
        ):  # fmt: skip
            self.assertEqual(str(address_of(typed)), shown)

    def test_others_are_refused_at_their_field(self) -> None:
        no_port = ("", "scale", "scale:", "scale:0", "scale:65536", "scale:x", "scale:٣", f"scale:7{'0' * 30}")
        no_host = (":7001", "a b:7001", "a/b:80", "300.1.1.1:7001", "1.2.3:7001", "-scale:70", f"{'a' * 64}:70")
        for typed in (*no_port, *no_host):
            with self.subTest(typed), self.assertRaises(InvalidValue) as refused:
                address_of(typed)
            self.assertEqual(refused.exception.field, "address")
        for typed in (
            "8.8.8.8:80",
            "0.0.0.0:80",
            "169.254.169.254:80",
            "[::ffff:8.8.8.8]:80",
            "[2001:db8::1]:80",
            "255.255.255.255:1",
        ):
            with self.subTest(typed), self.assertRaises(InvalidValue) as refused:
                address_of(typed)
            self.assertIn(OUTSIDE, str(refused.exception))

    def test_a_name_is_no_number(self) -> None:
        self.assertFalse(within("scale.local"))
        self.assertTrue(within("::ffff:10.0.0.1"))


class OneShot(unittest.TestCase):
    def test_what_comes_within_a_second_is_the_same_arrow(self) -> None:
        self.assertEqual([same_shot(10.0, t) for t in (10.0, 10.9, 11.0, 14.0, 9.0)], [True, True, False, False, False])
