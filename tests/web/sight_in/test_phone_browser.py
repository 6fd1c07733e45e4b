"""The range on a phone: one hand, arrows close together, no network, a visit that ended."""

from __future__ import annotations

import re
import time

from playwright.sync_api import CDPSession, Page, expect

from tests.web.sight_in.test_browser import PHONE, shot_in
from tests.web.stations import Stations

BOTTOM_BAR = 54


class Thumb(Stations):
    """A page that is worked by touch."""

    fill_with = staticmethod(shot_in)
    expected_complaints = ("status of 4", "ERR_INTERNET_DISCONNECTED", "ERR_FAILED")

    def fresh(self, rig: int = 1) -> Page:
        return self.open(f"/rigs/{rig}/sight_in", size=PHONE, has_touch=True, is_mobile=True)

    def at(self, page: Page, x: float, y: float) -> tuple[float, float]:
        """Millimetres from the aim as a point of the screen."""
        page.locator("#target").scroll_into_view_if_needed()
        box = page.locator("#target").bounding_box()
        half = float(page.locator("#target").get_attribute("data-half") or 1)
        assert box
        return box["x"] + box["width"] * (0.5 + x / half / 2), box["y"] + box["height"] * (0.5 - y / half / 2)

    def tap(self, page: Page, x: float, y: float) -> None:
        page.touchscreen.tap(*self.at(page, x, y))

    def sure(self, page: Page) -> None:
        page.locator("#head-so").tap()

    def ends(self, page: Page) -> int:
        return page.locator(".range-log tbody tr:not(.moved)").count()

    def shots(self, page: Page) -> list[str]:
        return page.locator(".shot").evaluate_all("all => all.map((each) => each.getAttribute('aria-valuetext'))")


class Finger:
    """One finger that rests and moves."""

    def __init__(self, page: Page) -> None:
        self.page, self.session = page, page.context.new_cdp_session(page)

    def does(self, what: str, *points: tuple[float, float], at_s: float | None = None) -> None:
        """A touch; `at_s`, the moment that it bears, however slow the machine is."""
        told: dict[str, object] = {"type": what, "touchPoints": [{"x": x, "y": y} for x, y in points]}
        self.session: CDPSession
        self.session.send("Input.dispatchTouchEvent", told | ({} if at_s is None else {"timestamp": at_s}))

    def rest(self, x: float, y: float, ms: int) -> None:
        self.does("touchStart", (x, y))
        self.page.wait_for_timeout(ms)

    def lift(self) -> None:
        self.does("touchEnd")


class Close(Thumb):
    def test_arrows_five_millimetres_apart_are_arrows_of_their_own(self) -> None:
        page = self.fresh()
        self.sure(page)
        for x, y in ((10, 20), (15, 20), (15, 25), (10, 25), (12, 22)):
            self.tap(page, x, y)
        self.assertEqual(page.locator(".shot").count(), 5)
        for told, (x, y) in zip(self.shots(page), ((10, 20), (15, 20), (15, 25), (10, 25), (12, 22))):
            right, up = (float(v) for v in re.findall(r"[\d.]+", told)[:2])
            self.assertAlmostEqual(right, x, delta=1.0)
            self.assertAlmostEqual(up, y, delta=1.0)

    def test_a_finger_that_shakes_is_a_tap(self) -> None:
        page = self.fresh()
        self.sure(page)
        x, y = self.at(page, 10, 20)
        finger = Finger(page)
        finger.does("touchStart", (x, y))
        finger.does("touchMove", (x + 2, y - 2))
        finger.lift()
        expect(page.locator(".shot")).to_have_count(1)

    def test_a_second_tap_at_once_is_asked_about(self) -> None:
        page = self.fresh()
        self.sure(page)
        finger, place, now = Finger(page), self.at(page, 10, 20), time.time()
        for after_s in (0.0, 0.12):
            finger.does("touchStart", place, at_s=now + after_s)
            finger.does("touchEnd", at_s=now + after_s + 0.04)
        expect(page.locator(".shot")).to_have_count(1)
        page.get_by_role("button", name="Another arrow there").tap()
        expect(page.locator(".shot")).to_have_count(2)
        expect(page.get_by_role("button", name="Another arrow there")).to_be_hidden()

    def test_a_finger_that_rests_looks_closer_and_places_where_it_is_lifted(self) -> None:
        page = self.fresh()
        self.sure(page)
        finger, (x, y) = Finger(page), self.at(page, 40, -20)
        finger.rest(x, y, 350)
        expect(page.locator(".loupe")).to_be_visible()
        for step in range(1, 7):  # straight up: a page that scrolled would take the finger away
            finger.does("touchMove", (x, y - 6.0 * step))
        self.assertEqual(page.locator(".shot").count(), 0)
        there = self.at(page, 0, 0)
        finger.lift()
        expect(page.locator(".shot")).to_have_count(1)
        expect(page.locator(".loupe")).to_have_count(0)
        self.assertEqual(self.at(page, 0, 0), there, "the page scrolled under the finger")
        mm = -20 + 36.0 / (there[1] - self.at(page, 0, 1)[1])
        self.assertAlmostEqual(float(re.findall(r"[\d.]+", self.shots(page)[0])[1]), mm, delta=1.0)

    def test_a_swipe_is_no_arrow(self) -> None:
        page = self.fresh()
        self.sure(page)
        finger, (x, y) = Finger(page), self.at(page, 20, 20)
        finger.does("touchStart", (x, y))
        for step in range(1, 9):
            finger.does("touchMove", (x, y - 12.0 * step))
        finger.lift()
        page.wait_for_timeout(200)
        self.assertEqual(page.locator(".shot").count(), 0)

    def test_a_long_press_picks_an_arrow_up_and_moves_it(self) -> None:
        page = self.fresh()
        self.sure(page)
        self.tap(page, 10, 20)
        self.tap(page, 60, 20)
        finger, (x, y) = Finger(page), self.at(page, 10, 20)
        finger.rest(x, y, 950)
        there = self.at(page, 10, -30)
        for part in (0.3, 0.6, 1.0):
            finger.does("touchMove", (x, y + part * (there[1] - y)))
        finger.lift()
        expect(page.locator(".shot")).to_have_count(2)
        self.assertRegex(self.shots(page)[0], r"^(9|10|11)(\.\d)? right, (29|30|31)(\.\d)? low")
        self.assertRegex(self.shots(page)[1], r"^(59|60|61)(\.\d)? right, (19|20|21)(\.\d)? high")

    def test_a_long_press_that_moves_nothing_asks_for_another_arrow(self) -> None:
        page = self.fresh()
        self.sure(page)
        self.tap(page, 10, 20)
        finger = Finger(page)
        finger.rest(*self.at(page, 12, 20), 950)
        finger.lift()
        expect(page.locator(".shot")).to_have_count(1)
        page.get_by_role("button", name="Another arrow there").tap()
        expect(page.locator(".shot")).to_have_count(2)

    def test_the_list_picks_one_and_its_keys_move_it(self) -> None:
        page = self.fresh()
        self.sure(page)
        self.tap(page, 10, 20)
        self.tap(page, 15, 20)
        before = self.shots(page)
        page.locator("#shot-list button").first.tap()
        page.get_by_role("button", name="1 mm left").tap()
        page.get_by_role("button", name="1 mm down").tap()
        after = self.shots(page)
        self.assertEqual(after[1], before[1])
        (x, y), (x2, y2) = ([float(v) for v in re.findall(r"[\d.]+", told)[:2]] for told in (before[0], after[0]))
        self.assertAlmostEqual(x2, x - 1, delta=0.11)
        self.assertAlmostEqual(y2, y - 1, delta=0.11)
        page.get_by_role("button", name="Take it back").tap()
        expect(page.locator(".shot")).to_have_count(1)


class OneScreen(Thumb):
    def test_order_state_and_target_are_seen_together(self) -> None:
        page = self.fresh()
        self.assertLess(page.evaluate("document.documentElement.scrollHeight"), 1700)
        bottom = PHONE[1] - BOTTOM_BAR
        tops = []
        for part in ("#now", "#end-says", "#target"):
            box = page.locator(part).bounding_box()
            assert box
            self.assertLessEqual(box["y"] + box["height"], bottom, part)
            tops.append(box["y"])
        self.assertEqual(tops, sorted(tops), "what is shot stands above the target")
        expect(page.locator("#judged-title")).to_be_hidden()
        page.get_by_role("button", name="Everything else").tap()
        expect(page.locator("#judged-title")).to_be_visible()

    def test_the_first_arrow_waits_until_it_is_said_where_it_is_shot(self) -> None:
        page = self.fresh()
        before = self.ends(page)
        self.tap(page, 10, 20)
        expect(page.locator("#end-asks")).to_contain_text("Say first where these are shot")
        expect(page.locator("#kept")).to_have_text("1 wait in this page")
        page.reload()
        expect(page.locator(".shot")).to_have_count(1)
        expect(page.locator("#kept")).to_have_text("1 wait in this page")
        page.locator("#head-change").tap()
        page.locator("#distance").fill("38.5")
        expect(page.locator("#end-says")).to_contain_text("38.5 m")
        page.locator("#end-done").tap()  # still not said
        expect(page.locator(".shot")).to_have_count(1)
        self.sure(page)
        expect(page.locator("#kept")).to_have_text("1 kept")
        with page.expect_navigation():
            page.locator("#end-done").tap()
        self.assertEqual(self.ends(page), before + 1)
        page.get_by_role("button", name="Everything else").tap()
        expect(page.locator(".range-log tbody tr").first).to_contain_text("38.5")

    def test_an_end_begun_on_a_phone_goes_on_where_nothing_is_asked(self) -> None:
        page = self.fresh()
        self.tap(page, 10, 20)
        expect(page.locator("#kept")).to_have_text("1 wait in this page")
        page.set_viewport_size({"width": 1280, "height": 800})
        page.reload()
        expect(page.locator("#kept")).to_have_text("1 kept")

    def test_typed_shots_too_are_said_where_they_were_shot(self) -> None:
        page = self.fresh()
        before = self.ends(page)
        page.goto(f"{page.url}?shots=10%2020%0A30%2040&photo=1#target-title")  # as they come off a photo
        expect(page.locator(".shot")).to_have_count(2)
        expect(page.locator("#fold")).to_have_attribute("aria-expanded", "false")
        expect(page.locator("#target")).to_be_in_viewport(ratio=0.9)
        page.locator("#end-done").tap()
        expect(page.locator("#end-asks")).to_contain_text("Say first where these are shot")
        self.sure(page)
        with page.expect_navigation():
            page.locator("#end-done").tap()
        self.assertEqual(self.ends(page), before + 1)

    def test_everything_to_press_is_large_enough_for_a_thumb(self) -> None:
        page = self.fresh()
        small = page.evaluate(
            """[...document.querySelectorAll('a, button, input, select, summary')].filter((each) => {
                const box = each.getBoundingClientRect();
                return each.checkVisibility() && box.width && !each.matches('.skip, [type=checkbox], .shot') && box.height < 44;
            }).map((each) => `${each.textContent.trim()} ${each.getBoundingClientRect().height}`)"""  # noqa: E501
        )
        self.assertEqual(small, [])

    def test_no_text_is_smaller_than_sixteen(self) -> None:
        page = self.fresh()
        page.get_by_role("button", name="Everything else").tap()
        small = page.evaluate(
            """[...document.querySelectorAll('main *')].filter((each) => each.checkVisibility() && !each.closest('svg')
                && [...each.childNodes].some((node) => node.nodeType === 3 && node.data.trim())
                && parseFloat(getComputedStyle(each).fontSize) < 16)
                .map((each) => `${each.tagName} ${each.className} ${each.textContent.trim().slice(0, 30)}`)"""
        )
        self.assertEqual(small, [])

    def test_the_sun_stays_switched(self) -> None:
        page = self.fresh()
        page.locator("#sun").tap()
        self.assertEqual(page.evaluate("getComputedStyle(document.body).backgroundColor"), "rgb(255, 255, 255)")
        page.reload()
        expect(page.locator("#sun")).to_have_attribute("aria-pressed", "true")
        page.locator("#sun").tap()
        self.assertNotEqual(page.evaluate("getComputedStyle(document.body).backgroundColor"), "rgb(255, 255, 255)")

    def test_without_javascript_nothing_is_folded(self) -> None:
        page = self.open("/rigs/1/sight_in", size=PHONE, java_script_enabled=False)
        for part in ("#distance", "#judged-title", "#end-done"):
            expect(page.locator(part)).to_be_visible()


class NoNetwork(Thumb):
    """A page that is already open goes on; everything goes once, in its order."""

    def moves(self) -> int:
        return len(self.rig(2).every_move)

    def test_acts_and_ends_go_once_and_in_their_order(self) -> None:
        page = self.fresh(2)
        page.get_by_role("button", name="It is so", exact=True).first.tap()
        expect(page.locator("#now")).to_contain_text("Shoot 2 arrows at 5")
        self.sure(page)
        self.tap(page, 30, 55)
        self.tap(page, 24, 61)
        with page.expect_navigation():
            page.locator("#end-done").tap()
        expect(page.locator(".moves li")).to_have_count(2)
        page.context.set_offline(True)
        page.get_by_role("button", name="Done, it moved that way").tap()
        expect(page.locator(".save-state").first).to_contain_text("It is kept here and tried again")
        self.sure(page)
        self.tap(page, 3, 6)
        self.tap(page, -5, 2)
        page.locator("#end-done").tap()
        expect(page.locator("#kept")).to_have_text("2 wait in this page")
        page.context.set_offline(False)
        expect(page.locator("#kept")).not_to_contain_text("wait")
        page.wait_for_timeout(3000)
        rig = self.rig(2)
        self.assertEqual(len(rig.every_end), 2)
        self.assertEqual(len(rig.every_move), 2)
        first, second = sorted(end.order for end in rig.every_end)
        for move in rig.every_move:
            self.assertTrue(first < move.order < second, (first, move.order, second))

    def test_an_act_waits_for_arrows_of_which_nobody_said_where_they_were_shot(self) -> None:
        page = self.fresh(2)
        before = len(self.rig(2).range_log.entries)
        self.tap(page, 30, 55)
        page.locator("form[action*='/step/'] button, form[action$='/moved'] button").first.tap()
        expect(page.locator("#end-asks")).to_contain_text("Say first where these are shot")
        expect(page.locator(".save-state").first).to_contain_text("it goes after what was done before it")
        page.wait_for_timeout(1500)
        self.assertEqual(len(self.rig(2).range_log.entries), before)
        self.sure(page)
        page.wait_for_timeout(3000)
        self.assertEqual([len(end.shots) for end in self.rig(2).every_end][-1:], [1])

    def test_a_link_without_network_leaves_the_page_open(self) -> None:
        page = self.fresh()
        self.sure(page)
        page.context.set_offline(True)
        self.tap(page, 10, 10)
        expect(page.locator("#save-bar")).to_contain_text("No answer from the program: stay on this page")
        page.get_by_role("link", name="Tape", exact=False).first.tap()
        page.wait_for_timeout(300)
        expect(page.locator(".shot")).to_have_count(1)
        page.context.set_offline(False)
        expect(page.locator("#kept")).to_have_text("1 kept")
        page.get_by_role("link", name="Tape", exact=False).first.tap()
        page.wait_for_url("**/tape")

    def test_a_visit_that_ended_says_so_and_keeps_what_was_done(self) -> None:
        page = self.fresh()
        before = self.ends(page)
        self.sure(page)
        page.route(
            "**/sight_in/**", lambda route: route.fulfill(status=401, body="The shop's passphrase is asked for.")
        )
        self.tap(page, 10, 10)
        expect(page.locator("#kept")).to_have_text("1 wait in this page: the shop's passphrase is asked for")
        expect(page.get_by_role("link", name="Come in again")).to_have_attribute(
            "href", "/shop?to=%2Frigs%2F1%2Fsight_in"
        )
        self.tap(page, 60, 10)
        page.locator("#end-done").tap()
        expect(page.locator("#kept")).to_contain_text("2 wait in this page")
        page.unroute("**/sight_in/**")
        page.goto(self.server.address + "/sights")
        page.goto(self.server.address + "/rigs/1/sight_in")
        expect(page.locator("#kept")).not_to_contain_text("wait")
        page.wait_for_timeout(1500)  # it goes on to its page by itself
        page.goto(self.server.address + "/rigs/1/sight_in")
        self.assertEqual(self.ends(page), before + 1)
