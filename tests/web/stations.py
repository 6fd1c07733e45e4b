"""What the browser tests of the stations share."""

from __future__ import annotations

from playwright.sync_api import Page

from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage.database import Database
from tests.browser import InBrowser


class Stations(InBrowser):
    def database(self) -> Database:
        """The data behind the served application."""
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        return database

    def rig(self, rig_id: int) -> Rig:
        return open_rig(self.database(), rig_id)

    def drag(self, page: Page, right: float, down: float) -> None:
        """Press beside the middle of the drawing, in pixels of the screen."""
        box = page.locator("svg[data-place]").bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2.0, box["y"] + box["height"] / 2.0)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2.0 + right, box["y"] + box["height"] / 2.0 + down, steps=4)
        page.mouse.up()
