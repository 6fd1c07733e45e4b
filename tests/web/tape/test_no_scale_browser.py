"""From an empty shop to a tape without a chronograph or a scale: by pencil lines alone, and by a booklet alone.

The bow is known to the script only; in the end what the pages say is flown.
"""

from __future__ import annotations

import math
import re
from dataclasses import replace

from playwright.sync_api import Page, expect

from cross_staff.core.ballistics.arrow import prior_drag
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.tape.booklet import speed_of_span
from tests.browser import InBrowser, unfold

TARGET_M = 0.25
MASS_KG, DIAMETER_M = 0.0259, 0.0058
TRUE = RigFigures(76.5, prior_drag(DIAMETER_M, MASS_KG) * math.exp(0.12), 0.815, 0.1065)
CARD = {
    "shaft_diameter": "5.8", "arrow_mass": f"{MASS_KG * 15432.36:.1f}", "draw_weight": "55", "let_off": "80",
    "eye_to_sight": "820", "peep_square": "104", "home": "20", "farthest": "70", "target_size": "25",
    "group_size": "9", "group_at": "30",
}  # fmt: skip


def apart(near_m: float, far_m: float, figures: RigFigures = TRUE) -> float:
    """How far the sight truly goes down from one distance to another [mm]."""
    return 1000.0 * (pin_height(figures, near_m) - pin_height(figures, far_m))


def comes_in(travel_mm: float, at_m: float) -> float:
    """How high the true arrow comes in with the sight so far below its home line [m]."""
    return float(impact_heights(TRUE, pin_height(TRUE, 20.0) - travel_mm / 1000.0, at_m)[0])


class NoScale(InBrowser):
    def new_rig(self, page: Page, name: str) -> str:
        """Onto the bench, and a card without a chronograph; returns the rig's address."""
        page.get_by_label("Name").fill(name)
        page.get_by_role("button", name="Put it on the bench").click()
        expect(page.get_by_role("heading", name="Weigh the arrow.")).to_be_visible()
        unfold(page)
        for field, text in CARD.items():
            page.locator(f"[name={field}]").fill(text)
        page.locator("#ranged_from").select_option("sight")
        page.locator("#sight_kind").select_option("single_pin_slider")
        page.locator("#speed_way").select_option("unmeasured")
        page.get_by_role("button", name="Save the card").click()
        expect(page.get_by_role("status").first).to_contain_text("Revision 2 holds now")
        return re.sub(r"/card.*", "", page.url)

    def test_by_pencil_lines_alone(self) -> None:
        page = self.open("/")
        rig = self.new_rig(page, "Pencil bow")
        expect(page.locator("#card-reckoning")).to_contain_text("Not measured.")
        expect(page.locator("#card-reckoning")).to_contain_text("Taken for granted, as nobody said it: true draw.")
        page.goto(f"{rig}/tape")
        expect(page.locator("#tape-now")).to_contain_text("The speed was not measured")
        page.get_by_role("link", name="pencil lines").click()
        page.locator("#row-0-distance").fill("50")
        page.locator("#row-0-mark").fill(f"{apart(20.0, 50.0):.1f}")
        with page.expect_response("**/tape"):
            page.locator("#row-0-arrows").fill("6")
            page.keyboard.press("Enter")
        expect(page.locator(".verdict")).to_contain_text("Good to")
        page.locator("#row-1-distance").fill("60")
        page.locator("#row-1-mark").fill("1 1/2 in")  # a slip: it was 1 1/16
        with page.expect_response("**/tape"):
            page.locator("#row-1-arrows").fill("6")
            page.keyboard.press("Enter")
        expect(page.locator("#tape-now h2")).to_contain_text("Look again at")
        page.locator("#row-1-mark").fill(f"{apart(20.0, 60.0) / 25.4:.3f} in")
        with page.expect_response("**/tape"):
            page.keyboard.press("Enter")
        expect(page.locator("#tape-now h2")).not_to_contain_text("Look again")
        self.assertNotIn("scale, mm", page.content())
        self.flown(page, rig)
        page.goto(f"{rig}/tape/print")
        with page.expect_download() as waiting:
            page.get_by_role("button", name="Print and keep it").click()
        self.assertEqual(waiting.value.suggested_filename, "pencil-bow-tape-1.pdf")
        self.strip_says(page, rig)

    def flown(self, page: Page, rig: str) -> None:
        """What the table has is set, and flown: in the target as far as is wanted."""
        rows = self.table(page, rig)
        for distance in (30.0, 50.0, 60.0, 70.0):
            travel = rows[distance]
            self.assertLess(abs(comes_in(travel, distance)), TARGET_M / 2.0, distance)

    def table(self, page: Page, rig: str) -> dict[float, float]:
        """From home, by distance, of the table that the print page hands out."""
        text = page.request.get(f"{rig}/tape.csv?from=20&to=70").text()
        return {float(row[0]): float(row[2]) for row in (line.split(",") for line in text.splitlines()[1:]) if row[2]}

    def strip_says(self, page: Page, rig: str) -> None:
        """The printed strip is laid on at home and shot by: what it reads and what arrows say goes in as it is said."""
        rows = self.table(page, rig)
        reads = min(rows, key=lambda d: abs(rows[d] - apart(20.0, 66.0)))
        page.goto(f"{rig}/tape?read=strip 1.0#marks-title")
        spare = page.locator("#marks-body tr").count() - 3
        page.locator(f"#row-{spare}-distance").fill("66")
        page.locator(f"#row-{spare}-mark").fill(f"{reads:g}")
        with page.expect_response("**/tape"):
            page.locator(f"#row-{spare}-arrows").fill("6")
            page.keyboard.press("Enter")
        expect(page.locator("#tape-log")).to_contain_text(f"reads {reads:g}")
        expect(page.locator("#tape-now h2")).not_to_contain_text("Look again")
        self.flown(page, rig)

    def test_by_a_booklet_alone_on_a_phone_without_scripts(self) -> None:
        page = self.open("/", (390, 844), java_script_enabled=False)
        rig = self.new_rig(page, "Booklet bow")
        page.goto(f"{rig}/tape/booklet")
        strips = {label: apart(20.0, 60.0, replace(TRUE, speed_mps=v)) for label, v in (("4", 84.0), ("14", 70.0))}
        for row, (label, span) in enumerate(strips.items()):
            page.locator(f"#label_{row}").fill(label)
            page.locator(f"#span_{row}").fill(f"{span:.1f}")
        page.locator("[name=from]").fill("20")
        page.locator("[name=to]").fill("60")
        page.get_by_role("button", name="Keep these strips").click()
        expect(page.locator("h2.now")).to_contain_text(re.compile(r"Strip \d+, or one of \d+ to \d+\."))
        page.get_by_role("link", name="What a trial strip says").click()
        step = (strips["14"] - strips["4"]) / 10.0
        says = 4.0 + (apart(20.0, 60.0) - strips["4"]) / step
        page.locator("#row-0-mark").fill(f"{says:.0f}")
        page.locator("#row-0-arrows").fill("6")
        page.get_by_role("button", name="Take these marks").click()
        expect(page.locator("#tape-log")).to_contain_text(f"strip {says:.0f}")
        page.goto(f"{rig}/tape/booklet")
        said = page.locator("h2.now").inner_text()
        label = re.search(r"[Ss]trip (\d+)", said)
        assert label
        span = strips["4"] + step * (float(label[1]) - 4.0)
        speed = speed_of_span(TRUE, 20.0, 60.0, [span])[0]
        assert speed
        strip = replace(TRUE, speed_mps=speed)
        for distance in (30.0, 40.0, 50.0, 60.0):
            self.assertLess(abs(comes_in(apart(20.0, distance, strip), distance)), TARGET_M / 2.0, said)
        page.get_by_role("button", name=f"I cut strip {label[1]}").click()
        expect(page.locator("h2.now")).to_contain_text(f"Strip {label[1]} stays on.")
        expect(page.get_by_text(f"Strip {label[1]} is on this sight, cut ")).to_be_visible()
