"""The whole route of a rig in a real browser: from a new card to a printed tape in the hand."""

from __future__ import annotations

import subprocess
import tempfile
from dataclasses import replace
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from cross_staff.services.card import save as card
from cross_staff.storage.database import Database
from tests.browser import InBrowser, unfold
from tests.rigs import true_mark
from tests.shop import METRIC, Shop, rig_card

PIXELS_PER_MM = 10.0
CARD = {
    "name": "Hedge bow", "archer": "Sela Brandt", "shaft_length": "720", "shaft_density": "6.6",
    "shaft_diameter": "5.8", "part_mass_0": "9", "part_centre_0": "2", "part_mass_5": "150",
    "part_centre_5": "724", "readings": "264.8 265.4 265.1 265.9", "eye_to_sight": "820",
    "peep_square": "104", "home": "17", "farthest": "95", "target_size": "25",
}  # fmt: skip


def rasterised(pdf: Path) -> np.ndarray:
    """The first page as grey values at ten pixels a millimetre."""
    stem = pdf.with_suffix("")
    subprocess.run(
        ["pdftoppm", "-r", "254", "-gray", "-png", "-f", "1", "-l", "1", "-singlefile", pdf, stem], check=True
    )
    return np.asarray(Image.open(stem.with_suffix(".png")).convert("L"))


def longest_dark_run(row: np.ndarray) -> int:
    """Length of the longest run of dark pixels."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], (row < 128).astype(int), [0]])))
    return int(max((edges[1::2] - edges[::2]), default=0))


class Route(InBrowser):
    def enter_marks(self, page: Page, *rows: tuple[str, ...]) -> None:
        """Fill the table by keyboard: Enter goes on, an empty cell is passed over."""
        page.locator("#row-0-distance").focus()
        for row in rows:
            for text in row:
                with page.expect_response("**/tape") if text else _nothing():
                    page.keyboard.type(text)
                    page.keyboard.press("Enter")

    def test_from_a_new_card_to_a_true_scale_pdf(self) -> None:
        page = self.open("/")
        page.get_by_label("Name").fill(CARD["name"])
        page.get_by_label("Archer").fill(CARD["archer"])
        page.get_by_role("button", name="Put it on the bench").click()
        expect(page.get_by_role("heading", name="Weigh the arrow.")).to_be_visible()
        unfold(page)
        for name, text in CARD.items():
            page.locator(f"[name={name}]").fill(text)
        expect(page.locator("#card-reckoning")).to_contain_text("front of centre")
        expect(page.locator("#card-reckoning")).to_contain_text("mean of 4")
        page.locator("#ranged_from").select_option("sight")
        page.locator("#sight_kind").select_option("single_pin_slider")
        page.get_by_role("button", name="Save the card").click()
        expect(page.get_by_role("status")).to_contain_text("Revision 2 holds now")
        with page.expect_navigation():  # scripts and all, before the keyboard is asked
            page.locator("#staff a[href$='/tape']").click()
        expect(page.locator("#tape-now h2")).to_contain_text("Shoot 6 arrows at 17")
        self.enter_marks(page, *((f"{d}", f"{true_mark(d):.1f}", "0", "6") for d in (17, 47, 78)))
        expect(page.locator(".dot")).to_have_count(3)
        expect(page.locator(".verdict")).to_contain_text("Good to")
        expect(page.locator("#row-2-said .off")).not_to_be_empty()
        page.keyboard.press("Escape")
        page.locator("h1").click()
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Print at 100 %.")).to_be_visible()
        with page.expect_download() as waiting:
            page.get_by_role("button", name="Print and keep it").click()
        self.assertEqual(waiting.value.suggested_filename, "hedge-bow-tape-1.pdf")
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "tape.pdf"
            waiting.value.save_as(file)
            self.measure(rasterised(file))

    def measure(self, picture: np.ndarray) -> None:
        """The check bar to 0.3 %, and the fitted strip's ticks where the marks are."""
        runs = [longest_dark_run(row) for row in picture]
        self.assertAlmostEqual(max(runs) / PIXELS_PER_MM, 100.0, delta=0.3)
        # a column just inside the right edge of the fitted strip (the second) meets every tick
        left = 15.0 + (9.0 + 7.5 + 9.0) + 7.5
        span = true_mark(95) - true_mark(17)
        rows = slice(int((58.0 + 3.0) * PIXELS_PER_MM), int((58.0 + 6.0 + span + 3.0) * PIXELS_PER_MM))
        dark = (picture[rows, int((left + 8.9) * PIXELS_PER_MM)] < 128).astype(int)
        edges = np.flatnonzero(np.diff(dark))
        middles = (edges[::2] + edges[1::2]) / 2.0 / PIXELS_PER_MM
        self.assertAlmostEqual(middles[-1] - middles[0], span, delta=0.03 * span)


class _nothing:  # noqa: N801
    def __enter__(self) -> None: ...
    def __exit__(self, *_: object) -> None: ...


def first_spare(page: Page) -> int:
    """Index of the first empty row of the marks table."""
    return [cell.input_value() for cell in page.locator("[name$=-distance]").all() if cell.is_visible()].index("")


def five_rigs(database: Database) -> None:
    """Rigs 1 and 2 shot as far as 61 m, 3 with all marks, 4 with marks that its new arrow made old, 5 new."""
    shop = Shop(database)
    shop.marks(shop.ready(rig_card(archer="Jory Penhale")), 17.0, 38.0, 61.0)  # whose other bows nobody knows
    shop.marks(shop.rig(rig_card("single_pin_slider")), 17.0, 38.0, 61.0)
    shop.marks(shop.rig(rig_card("single_pin_slider")), 17.0, 26.0, 38.0, 61.0, 78.0)
    changed = shop.rig(rig_card("single_pin_slider"))
    shop.marks(changed, 17.0, 38.0, 78.0)
    thicker = replace(shop.open(changed).card.build, shaft_diameter_m=0.0065)
    card.save(database, changed, 2, shop.open(changed).card.with_build(thicker), METRIC, shop.now(), "another shaft")
    shop.new()


class AtTheBench(InBrowser):
    fill_with = staticmethod(five_rigs)

    def test_by_keyboard_alone(self) -> None:
        page = self.open("/")
        page.keyboard.press("?")
        expect(page.locator("#keys")).to_be_visible()
        page.keyboard.press("Escape")
        while page.evaluate("document.activeElement.getAttribute('href')") != "/rigs/1/tape":
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        page.wait_for_url("**/rigs/1/tape")
        spare = first_spare(page)
        page.keyboard.press("n")
        expect(page.locator(f"#row-{spare}-distance")).to_be_focused()
        with page.expect_response("**/tape"):
            page.keyboard.type("95")
            page.keyboard.press("Tab")
        with page.expect_response("**/tape"):
            page.keyboard.type("69,9")
            page.keyboard.press("Enter")
        expect(page.locator(f"#row-{spare}-said")).to_contain_text("69,9 read as 69.9")
        page.keyboard.type("2 low")
        page.keyboard.press("Enter")
        page.keyboard.type("6")
        with page.expect_response("**/tape"):
            page.keyboard.press("Enter")
        expect(page.locator("#tape-now h2")).to_contain_text("Print the tape.")
        page.locator("h1").evaluate("document.activeElement.blur()")
        page.keyboard.press("1")
        page.wait_for_url("**/card")

    def test_a_wrong_cell_is_marked_at_once_and_the_rest_goes_on(self) -> None:
        page = self.open("/rigs/3/tape")
        page.locator("#row-5-distance").fill("ninety")
        page.locator("#row-5-mark").fill("70")
        page.keyboard.press("Tab")
        expect(page.locator("#row-5-said")).to_contain_text("“ninety” is not a number")
        expect(page.locator("#row-5-distance")).to_have_attribute("aria-invalid", "true")
        expect(page.locator("#row-5-distance")).to_have_value("ninety")
        page.locator("#row-5-distance").fill("26")
        page.keyboard.press("Tab")
        expect(page.locator("#row-5-distance")).not_to_have_attribute("aria-invalid", "true")

    def test_a_spare_row_is_always_there_and_pasted_rows_are_taken(self) -> None:
        page = self.open("/rigs/2/tape")
        rows = page.locator("tr.mark-row")
        before = rows.count()
        page.locator(f"#row-{before - 1}-distance").fill("78")
        expect(rows).to_have_count(before + 1)
        page.locator(f"#row-{before - 1}-distance").fill("")
        page.evaluate(
            """() => {
              const data = new DataTransfer();
              data.setData("text", "70\\t49.5\\n74\\t52.9");
              const cell = document.getElementById("row-5-distance");
              cell.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
            }"""
        )
        expect(page.locator("#row-4-mark")).to_have_value("52.9")

    def test_other_units_without_losing_what_was_typed(self) -> None:
        page = self.open("/rigs/1/card")
        unfold(page)
        page.locator("#sight").fill("typed, not saved")
        page.locator("#unit_distance").select_option("yd")
        expect(page.locator("#home")).to_have_value("18.59")
        expect(page.locator("#sight")).to_have_value("typed, not saved")
        expect(page.locator("#peep_along")).to_be_visible()
        expect(page.locator("#bow_axles")).to_be_hidden()

    def test_a_refused_card_puts_the_focus_on_the_field(self) -> None:
        page = self.open("/rigs/5/card")
        page.locator("#sight_kind").select_option("single_pin_slider")  # else it is what is wrong first
        page.locator("#shaft_diameter").fill("62")
        with page.expect_navigation():
            page.keyboard.press("Control+Enter")
        expect(page.locator("#shaft_diameter-error")).to_contain_text("between 3 and 15 mm")
        expect(page.locator("#shaft_diameter")).to_be_focused()

    def test_without_javascript(self) -> None:
        page = self.open("/rigs/4/tape", java_script_enabled=False)
        page.locator("#row-3-distance").fill("60")
        page.locator("#row-3-mark").fill("48.0")
        page.get_by_role("button", name="Take these marks").click()
        expect(page.locator("#row-3-said .off")).not_to_be_empty()
        page.get_by_text("It still holds").click()
        page.get_by_label("Why").fill("the same flight, shot again")
        page.get_by_role("button", name="Take it up again").click()
        expect(page.locator(".dot")).to_have_count(4)

    def test_at_phone_width_thumbs_fit(self) -> None:
        page = self.open("/rigs/3/tape", size=(390, 844))
        spare = first_spare(page)
        for selector in (f"#row-{spare}-mark", ".form-keys .button", "#tape-now .button"):
            self.assertGreaterEqual(page.locator(selector).first.bounding_box()["height"], 44, selector)
        page.locator(f"#row-{spare}-distance").fill("47")
        page.locator(f"#row-{spare}-mark").fill("33.1")
        page.get_by_role("button", name="Take these marks").click()
        expect(page.locator(f"#row-{spare}-said .off")).not_to_be_empty()
        self.assertEqual(first_spare(page), spare + 1)
