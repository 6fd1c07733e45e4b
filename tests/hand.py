"""A hand at the pages: what it fills in and what it presses is counted."""

from __future__ import annotations

from playwright.sync_api import Page


class Hand:
    """Fills in fields and presses what is pressed, as one does it; opening a page by its address is not one of them."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.fields = self.clicks = 0

    def fill(self, **fields: str) -> None:
        """Fields by their id; a list is chosen from by its key."""
        for name, text in fields.items():
            field = self.page.locator(f"#{name}")
            if field.evaluate("each => each.tagName") == "SELECT":
                field.select_option(text)
            else:
                field.fill(text)
            self.fields += 1

    def press(self, role: str, name: str, exact: bool = False) -> None:
        """A button or a link by its name, until the page has come."""
        self.page.get_by_role(role, name=name, exact=exact).first.click()  # type: ignore[arg-type]
        self.page.wait_for_load_state("load")
        self.clicks += 1

    def said(self, what: str) -> str:
        """What it took, in a line."""
        return f"{what}: {self.fields} fields, {self.clicks} clicks"
