"""The application under Starlette's test client, on a database of its own."""

from __future__ import annotations

import re
import tempfile
import unittest
from pathlib import Path
from typing import Any

from starlette.testclient import TestClient

from cross_staff.core.rig.card import RigCard
from cross_staff.settings import Settings
from cross_staff.storage.database import Database
from cross_staff.web.app import create_app
from tests.data import Fill, put_database
from tests.rigs import full_card
from tests.shop import Shop

HOST = "http://127.0.0.1"


class Client(TestClient):
    """Pages as one reads them: a break of a template's line is a blank; what was typed into several lines stays;
    a word that leads to the help is a word."""

    def request(self, *args: Any, **kwargs: Any) -> Any:
        answer = super().request(*args, **kwargs)
        if answer.headers.get("content-type", "").startswith("text/html"):
            parts = re.split(r"(<textarea.*?</textarea>)", answer.text, flags=re.S)
            parts = [re.sub(r'<a class="term"[^>]*>(.*?)</a>', r"\1", part) for part in parts]
            answer._text = "".join(p if p.startswith("<textarea") else re.sub(r" *\n[ \n]*", " ", p) for p in parts)
        return answer


class WithClient(unittest.TestCase):
    """Each test has the application with an empty bench."""

    fill_with: Fill | None = None

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.addCleanup(folder.cleanup)
        settings = Settings(data=Path(folder.name), body_limit_bytes=64 * 1024)
        put_database(settings.database_file, type(self).fill_with)
        self.client = Client(create_app(settings), base_url=HOST, follow_redirects=False)
        self.client.__enter__()
        self.addCleanup(self.client.__exit__, None, None, None)
        self.database: Database = self.client.app.state.database  # type: ignore[attr-defined]

    @property
    def shop(self) -> Shop:
        """Puts rigs on the bench, and takes them as far as a test needs."""
        return Shop(self.database)

    def add_rig(self, full: RigCard | None = None) -> int:
        """A rig whose card is complete, at revision 2, shown in metric units."""
        return self.shop.rig(full or full_card())

    def form(self, path: str) -> dict[str, str]:
        """The fields of the page's main form, as a browser would post them back."""
        return fields(self.client.get(path).text)


def fields(page: str) -> dict[str, str]:
    """Names and values of the inputs and selects of a page; unchecked boxes stay out, and so does what is set aside,
    a form of its own."""
    fields: dict[str, str] = {}
    page = re.sub(r'<section class="aside".*?</section>', "", page, flags=re.S)
    for tag in re.findall(r"<input[^>]*>", page):
        name, value = re.search(r' name="([^"]*)"', tag), re.search(r' value="([^"]*)"', tag)
        chosen_of = "checkbox" in tag or 'type="radio"' in tag
        if name and 'type="file"' not in tag and (not chosen_of or " checked" in tag):
            fields[name.group(1)] = _plain(value.group(1)) if value else "on"
    for name, options in re.findall(r'<select[^>]* name="([^"]*)"[^>]*>(.*?)</select>', page, re.S):
        chosen = re.search(r'<option value="([^"]*)"\s+selected', options) or re.search(
            r'<option value="([^"]*)"', options
        )
        if chosen:
            fields[name] = chosen.group(1)
    return fields


def _plain(text: str) -> str:
    for entity, letter in (("&#34;", '"'), ("&#39;", "'"), ("&lt;", "<"), ("&gt;", ">"), ("&amp;", "&")):
        text = text.replace(entity, letter)
    return text
