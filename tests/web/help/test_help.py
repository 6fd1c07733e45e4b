"""Help: guides, words, search, and the same in the docs."""

import re
import unittest
from pathlib import Path

from playwright.sync_api import expect

from cross_staff.core.stations import STATIONS
from cross_staff.web.guide.terms import with_terms
from cross_staff.web.guide.texts import GUIDES, KEYS, TERMS, linked, markdown
from tests.browser import InBrowser
from tests.shop import Shop, rig_card
from tests.web.client import WithClient

DOCS = Path(__file__).parents[3] / "docs"


class Help(WithClient):
    def test_a_guide_for_each_station_with_its_drawing_and_caution(self) -> None:
        self.assertEqual([guide.key for guide in GUIDES], [station.key for station in STATIONS])
        page = self.client.get("/help").text
        self.assertEqual(page.count('class="drawing"'), len(GUIDES))
        for guide in GUIDES:
            self.assertIn(f'id="{guide.key}"', page)
            self.assertTrue((DOCS / "screenshots" / f"{guide.picture}.png").exists(), guide.picture)
        for term in TERMS:
            self.assertIn(f'id="{term.key}"', page)

    def test_it_is_searched_by_all_words(self) -> None:
        page = self.client.get("/help?q=bubble leans").text
        self.assertIn("second axis", page)
        self.assertNotIn("bare shaft", page)
        self.assertIn("Nothing here speaks of “zebra”", self.client.get("/help?q=zebra").text)
        self.assertEqual(self.client.get("/help?q=" + "x" * 5000).status_code, 200)

    def test_the_docs_say_the_same(self) -> None:
        self.assertEqual((DOCS / "guide.md").read_text(encoding="utf-8"), markdown())

    def test_what_is_linked_leads_to_a_word(self) -> None:
        keys = {term.key for term in TERMS}
        self.assertEqual(len(keys), len(TERMS))
        self.assertLessEqual({key for key, _ in linked().values()}, keys)

    def test_a_page_lists_its_own_keys_first_and_help_lists_all(self) -> None:
        def listed(path: str) -> str:
            return self.client.get(path).text.split('<dialog id="keys"')[1].split("</dialog>")[0]

        rig = f"/rigs/{self.add_rig()}"
        for guide in GUIDES:
            keys = listed(f"{rig}/{guide.key}")
            for each in KEYS:
                shown = each.on in (guide.key, "rig", "everywhere")
                self.assertEqual(f"<dd>{each.does}</dd>" in keys.replace("&#39;", "'"), shown, (guide.key, each))
        self.assertNotIn("print the tape", listed("/sights"))
        page = self.client.get("/help").text
        for each in KEYS:
            self.assertIn(each.does, page)


def a_rig(database) -> None:  # type: ignore[no-untyped-def]
    Shop(database).rig(rig_card())


class Linking(unittest.TestCase):
    def test_a_word_is_linked_once_and_only_in_what_explains(self) -> None:
        page = with_terms(
            '<h1>Turnover</h1><p>turnover</p><p class="why">The <b>Turnover</b> &amp; its turnover<br>, a'
            ' <a href="/x">bare shaft</a></p><!-- bare shaft -->'
            '<details class="quiet"><summary>x</summary>paper tear</details>'
            '<p class="said" hidden>kisser</p><p class="hint big">bare shafts, bare shaft</p></div>'
        )
        self.assertEqual(
            re.findall(r'class="term" href="/help#([\w-]+)"[^>]*>([^<]*)</a>', page),
            [("turnover", "Turnover"), ("bare-shaft", "bare shaft")],
        )
        self.assertEqual(re.sub(r'<a class="term".*?>(.*?)</a>', r"\1", page).count("urnover"), 4)

    def test_what_is_there_comes_through_unchanged_but_for_the_links(self) -> None:
        page = (
            '<p class="why" title="a > b" data-x=\'<i>\'>x <!-- y --> &lt;turnover&gt;</p>'
            '<input value="turnover"><svg><text class="why">cant</text></svg>'
        )
        self.assertEqual(re.sub(r'<a class="term".*?>(.*?)</a>', r"\1", with_terms(page)), page)


class Terms(InBrowser):
    fill_with = staticmethod(a_rig)

    def test_a_word_leads_to_the_help_where_it_first_stands(self) -> None:
        page = self.open("/rigs/1/tape")
        term = page.locator("a.term").first
        expect(term).to_be_visible()
        hrefs = page.locator("a.term").evaluate_all("all => all.map((each) => each.getAttribute('href'))")
        self.assertEqual(len(hrefs), len(set(hrefs)))
        term.click()
        expect(page.locator(".glossary :target")).to_be_visible()

    def test_search_by_its_key(self) -> None:
        page = self.open("/rigs/1/mount")
        page.keyboard.press("/")
        expect(page.locator("#q")).to_be_focused()
        page.keyboard.type(rig_card().archer.split()[0].lower())
        page.keyboard.press("Enter")
        expect(page.locator(".found li").first).to_contain_text("Card, archer")
