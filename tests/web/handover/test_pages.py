"""Locking and handing over on the pages: one joint at a time, a card that is signed and never altered, its PDF read."""

import subprocess
import tempfile
import unittest
from pathlib import Path

import numpy as np
import segno
from PIL import Image
from starlette.testclient import TestClient

from cross_staff.core.prove.locking import Thread
from cross_staff.services.rig import open_rig
from cross_staff.services.shop.passphrase import choose_passphrase
from cross_staff.settings import Settings
from cross_staff.web.app import create_app
from tests.shop import Shop
from tests.web.client import WithClient


class Lock(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig = self.add_rig()
        self.path = f"/rigs/{self.rig}/prove/lock"

    def lock(self, joint: str, way: str = "dry", by: str = "Ida Fell"):  # type: ignore[no-untyped-def]
        return self.client.post(self.path, data={"joint": joint, "way": way, "by": by})

    def joints(self) -> list[str]:
        state = open_rig(self.database, self.rig).state.locking
        assert state is not None
        return [line.joint.name for line in state.lines]

    def test_one_after_the_other_until_the_spare_strip(self) -> None:
        for name in self.joints():
            self.assertIn(f"Lock: {name}.", self.client.get(self.path).text)
            self.assertEqual(self.lock(name, "movable").status_code, 303)
        self.assertIn("Put a spare strip into the kit.", self.client.get(self.path).text)
        self.lock("lock: spare strip", "spare")
        self.assertIn("Every joint is locked.", self.client.get(self.path).text)

    def test_in_ones_own_order_and_taken_back(self) -> None:
        last = self.joints()[-1]
        self.assertIn(f"Lock: {last}.", self.client.get(f"{self.path}?joint={last}").text)
        self.lock(last, Thread.LOCKER)
        page = self.client.get(self.path).text
        self.assertIn("thread-locker, Ida Fell", page)
        self.assertIn('value="Ida Fell"', page)  # the next one by the same hand
        self.client.post(f"{self.path}/undo", data={"joint": last})
        self.assertNotIn("thread-locker, Ida Fell", self.client.get(self.path).text)
        self.assertEqual(self.client.post(f"{self.path}/undo", data={"joint": last}).status_code, 404)

    def test_what_cannot_be_is_said_at_its_field(self) -> None:
        first = self.joints()[0]
        for way, by, words in (("dry", "", "who did it?"), ("glue", "Ida", "say what is on the thread")):
            answer = self.lock(first, way, by)
            self.assertEqual((answer.status_code, words in answer.text), (422, True), words)
            self.assertIn(f'value="{by}"', answer.text)
        self.lock(first, "locker")
        answer = self.lock(first, "seize")
        self.assertEqual((answer.status_code, "never both" in answer.text), (422, True))
        self.lock(first, "cleaned")
        self.assertEqual(self.lock(first, "seize").status_code, 303)
        self.assertEqual(self.lock("Bell").status_code, 404)
        self.assertEqual(self.client.get(f"{self.path}?joint=Bell").status_code, 404)


class HandOver(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig = self.add_rig()
        self.path = f"/rigs/{self.rig}/prove/hand-over"

    def sign(self, by: str = "Ida Fell", note: str = ""):  # type: ignore[no-untyped-def]
        return self.client.post(self.path, data={"signed_by": by, "note": note})

    def text_of(self, pdf: bytes) -> str:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "card.pdf"
            file.write_bytes(pdf)
            told = subprocess.run(["pdfinfo", file], capture_output=True, text=True, check=True).stdout
            self.assertRegex(told, r"Pages: +1\n")
            words = subprocess.run(["pdftotext", "-layout", file, "-"], capture_output=True, text=True, check=True)
        return " ".join(words.stdout.split())

    def test_what_is_open_is_said_before_it_is_signed_and_on_it(self) -> None:
        page = self.client.get(self.path).text
        self.assertIn("Handed over now, this stays open.", page)
        self.assertIn("Not locked", page)
        self.sign()
        signed = self.text_of(self.client.get(f"{self.path}.pdf").content)
        for words in ("card 1, signed by Ida Fell", "Still open", "Not locked", "Check this first", "Field kit"):
            self.assertIn(words, signed)

    def test_a_draft_says_so(self) -> None:
        self.assertIn("DRAFT, not signed", self.text_of(self.client.get(f"{self.path}.pdf").content))

    def test_nobody_signs_nothing(self) -> None:
        answer = self.sign("", "shoot it in")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("who hands it over?", answer.text)
        self.assertIn('value="shoot it in"', answer.text)
        self.assertEqual(open_rig(self.database, self.rig).handed_over, ())

    def test_a_later_change_makes_another_card_and_leaves_the_old(self) -> None:
        self.sign()
        first = self.client.get(f"{self.path}.pdf?number=1").content
        self.assertIn("Nothing changed since", self.client.get(self.path).text)
        self.sign()  # the same twice is one card
        self.client.post(f"/rigs/{self.rig}/prove/lock", data={"joint": "Rest", "way": "dry", "by": "Ida Fell"})
        page = self.client.get(self.path).text
        self.assertIn("Changed since card 1", page)
        self.assertIn("Locked: Rest", page)
        self.assertEqual(self.client.get(f"{self.path}.pdf?number=1").content, first)
        self.assertIn("number=2", self.sign().headers["location"])
        self.assertIn("Card 1", self.client.get(self.path).text)
        self.assertEqual(self.client.get(f"{self.path}?number=3").status_code, 404)
        self.assertEqual(self.client.get(f"{self.path}.pdf?number=3").status_code, 404)

    def test_nobody_signs_what_he_has_not_seen(self) -> None:
        seen = self.form(self.path)["seen"]
        self.client.post(f"/rigs/{self.rig}/prove/lock", data={"joint": "Rest", "way": "dry", "by": "Ida Fell"})
        told = {"signed_by": "Ida Fell", "note": "shoot it in", "seen": seen}
        answer = self.client.post(self.path, data=told)
        self.assertEqual((answer.status_code, "look at what stands on the card now" in answer.text), (409, True))
        self.assertIn('value="shoot it in"', answer.text)
        self.assertEqual(open_rig(self.database, self.rig).handed_over, ())
        again = told | {"seen": self.form(self.path)["seen"]}
        self.assertEqual(self.client.post(self.path, data=again).status_code, 303)

    def test_two_windows_sign_two_cards(self) -> None:
        self.sign("Ida Fell")
        self.sign("Ulf Moor")
        self.assertEqual([card.number for card in open_rig(self.database, self.rig).handed_over], [1, 2])

    def test_no_word_of_a_card_breaks_the_paper(self) -> None:
        self.assertEqual(self.sign("<b>Ida & Co</b>", "→ ≤ ½ “so” " + "long " * 60).status_code, 303)
        self.assertIn("Ida & Co", self.text_of(self.client.get(f"{self.path}.pdf").content))


class OnPaper(unittest.TestCase):
    """The card of a rig that is served to the network, rasterised and looked at."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        choose_passphrase(self.folder, "slate and heather")
        app = create_app(Settings(data=self.folder, off_loopback=True, port=8000))
        self.client = TestClient(app, base_url="http://192.0.2.7:8000", follow_redirects=False, client=("192.0.2.9", 1))
        self.client.__enter__()
        self.addCleanup(self.client.__exit__, None, None, None)
        self.client.post("/shop", data={"passphrase": "slate and heather", "to": "/"})
        self.rig = Shop(app.state.database).rig()

    def page(self, pdf: bytes) -> Image.Image:
        (self.folder / "card.pdf").write_bytes(pdf)
        made = ["pdftoppm", "-r", "100", "-png", "-singlefile", self.folder / "card.pdf", self.folder / "card"]
        subprocess.run(made, check=True)
        with Image.open(self.folder / "card.png") as picture:
            return picture.convert("L")

    def dark(self, picture: Image.Image, box: tuple[int, int, int, int]) -> float:
        """How much of a part of the page is dark."""
        part = np.asarray(picture.crop(box))
        return float((part < 128).mean())

    def test_the_code_leads_to_the_rig_and_nothing_runs_off_the_paper(self) -> None:
        address = f"http://192.0.2.7:8000/rigs/{self.rig}/prove/hand-over"
        self.assertIn(
            f"The code on paper leads to {address}", self.client.get(f"/rigs/{self.rig}/prove/hand-over").text
        )
        picture = self.page(self.client.get(f"/rigs/{self.rig}/prove/hand-over.pdf").content)
        wide, high = picture.size
        for edge in ((0, 0, wide, 30), (0, high - 30, wide, high), (0, 0, 30, high), (wide - 30, 0, wide, high)):
            self.assertEqual(self.dark(picture, edge), 0.0, edge)
        corner = (wide - 47 - 92, 52, wide - 55, 140)  # within the code: 72 points at the margin
        self.assertTrue(0.3 < self.dark(picture, corner) < 0.6, self.dark(picture, corner))
        modules = np.asarray(picture.crop((wide - 147, 47, wide - 47, 147))) < 128
        shown = np.array(segno.make(address, error="m").matrix, dtype=bool)
        side = 100.0 / (len(shown) + 4)  # with a quiet zone of two on each side
        at = ((np.arange(len(shown)) + 2.5) * side).astype(int)
        self.assertGreater(float((modules[np.ix_(at, at)] == shown).mean()), 0.97)

    def test_words_fill_the_page_and_leave_some_of_it(self) -> None:
        picture = self.page(self.client.get(f"/rigs/{self.rig}/prove/hand-over.pdf").content)
        self.assertTrue(0.01 < self.dark(picture, (0, 0, *picture.size)) < 0.2)
