"""Every file that can be brought in, with its bytes changed: refused, or taken, never a server error.

make fuzz    the same for some minutes: FUZZ_EXAMPLES says how many of each, FUZZ_FIRST the first seed
"""

from __future__ import annotations

import io
import logging
import os
import random
import unittest
import zipfile
from importlib.resources import files

from starlette.testclient import TestClient

from cross_staff.demo.shop import ARCHIVE
from tests.carried import jpeg
from tests.web.client import HOST, WithClient

EXAMPLES, FIRST = 2 * int(os.environ.get("FUZZ_EXAMPLES", "6")), int(os.environ.get("FUZZ_FIRST", "1"))
ICS = "\r\n".join(
    ("BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "UID:1", "DTSTART;TZID=Europe/London:20261201T080000",
     "DTEND;TZID=Europe/London:20261201T090000", "RRULE:FREQ=WEEKLY;COUNT=4", "EXDATE:20261208T080000", "END:VEVENT",
     "END:VCALENDAR", "")
).encode()  # fmt: skip
CSV = b"distance_m,right_mm,up_mm,called_bad,end_key,shot_key\n17,1,2,,a,s1\n17,-3,4.5,x,a,s2\n26,0,0,,b,s1\n"
TOKENS = (
    b"9" * 400, b"1e999", b"-1e308", b"\x00", b"[" * 3000, b"{}", b"null", b"NaN", b'"', b"\xff\xfe", b"\xe2\x80\xae",
    b"\r\n", b"FREQ=SECONDLY", b"99991231T235959Z", b"TZID=Nowhere/None", b"../../x", b"true", b"",
)  # fmt: skip


def changed(content: bytes, chance: random.Random) -> bytes:
    """A file with some of its bytes changed, lost, doubled or put in."""
    made = bytearray(content)
    for _ in range(chance.choice((1, 1, 2, 5, 30))):
        at = chance.randrange(len(made) + 1)
        to = min(at + chance.choice((1, 4, 50, 3000)), len(made))
        how = chance.randrange(5)
        if how == 0:
            made[at:to] = bytes(chance.randrange(256) for _ in range(min(to - at, 40)))
        elif how == 1:
            del made[at:to]
        elif how == 2:
            made[at:at] = made[at:to]
        elif how == 3:
            made[at:at] = chance.choice(TOKENS)
        else:
            made = made[:at] if chance.random() < 0.2 else made
    return bytes(made)


class Files(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.client = TestClient(self.client.app, base_url=HOST, follow_redirects=False, raise_server_exceptions=False)
        logging.getLogger("cross_staff").setLevel(logging.CRITICAL)
        self.addCleanup(logging.getLogger("cross_staff").setLevel, logging.NOTSET)
        self.rig_id = self.add_rig()
        shipped = zipfile.ZipFile(str(files("cross_staff.demo") / ARCHIVE))
        name = min(
            (each for each in shipped.namelist() if each.startswith("rigs/")), key=lambda n: len(shipped.read(n))
        )
        self.rig = shipped.read(name)
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("rig.json", self.rig)
        self.archive = out.getvalue()

    def kinds(self) -> dict[str, tuple[str, str, bytes, dict[str, str]]]:
        """Address, field, a sound file and the other fields, by what it is."""
        here = f"/rigs/{self.rig_id}"
        exercise = self.client.get("/practice/exercises/bare-card.json").content
        levels = self.client.get("/instruments.json").content
        return {
            "rig.json": ("/carry", "file", self.rig, {}),
            "rig.zip": ("/carry", "file", self.archive, {}),
            "levels.json": ("/carry", "file", levels, {}),
            "busy.ics": ("/plan/busy", "calendar", ICS, {"of": "the shop"}),
            "exercise.json": ("/practice/file", "file", exercise, {"learner": "", "units": ""}),
            "mark.jpg": (f"{here}/mount/marks", "photo", jpeg(20), {"joint": "rest", "place": "a line", "line": ""}),
            "level.jpg": (f"{here}/level/photo", "photo", jpeg(120), {}),
            "target.jpg": (f"{here}/sight_in/photo", "photo", jpeg(220), {}),
        }

    def test_no_file_ever_fails(self) -> None:
        taken = 0
        for name, (path, field, content, data) in self.kinds().items():
            for number in range(FIRST, FIRST + EXAMPLES):
                chance = random.Random(f"{name} {number}")
                sent = changed(content, chance) if number > FIRST else content
                with self.subTest(name, number=number):
                    answer = self.client.post(path, data=data, files={field: (name, sent)})
                    self.assertLess(answer.status_code, 500)
                    to = answer.headers.get("location", "")
                    if to.startswith("/carry/"):
                        self.assertLess(self.client.get(to).status_code, 500)
                        self.assertLess(self.client.post(to, data={}).status_code, 500)
                    taken += answer.status_code == 303
        self.assertGreater(taken, 3)
        self.usable()

    def test_no_pasted_shots_ever_fail(self) -> None:
        for number in range(FIRST, FIRST + 4 * EXAMPLES):
            text = changed(CSV, random.Random(number)).decode("utf-8", "replace") if number > FIRST else CSV.decode()
            with self.subTest(number=number):
                answer = self.client.post(f"/rigs/{self.rig_id}/sight_in/import", data={"csv": text})
                self.assertLess(answer.status_code, 500)
        self.usable()

    def usable(self) -> None:
        """Every rig that came of it can be opened."""
        page = self.client.get("/")
        self.assertEqual(page.status_code, 200)
        self.assertNotIn("cannot be worked out", page.text)
        for page_of in ("card", "level", "sight_in", "tape", "prove"):
            self.assertEqual(self.client.get(f"/rigs/{self.rig_id}/{page_of}").status_code, 200)


if __name__ == "__main__":
    unittest.main()
