"""The picture of the house is that of the contracts and the registry; the house keeps its own measures."""

from __future__ import annotations

import re
import unittest
from pathlib import Path

from jinja2 import nodes

from cross_staff.web.shared.render import _ENVIRONMENT
from tools.architecture import drawn

TEMPLATES = Path("cross_staff/web/templates")
STYLES = Path("cross_staff/web/static/css")
ARITHMETIC = (nodes.Add, nodes.Sub, nodes.Mul, nodes.Div, nodes.FloorDiv, nodes.Mod, nodes.Pow)


class House(unittest.TestCase):
    def test_the_picture_is_up_to_date(self) -> None:
        self.assertEqual(Path("docs/architecture.svg").read_text(), drawn(), "make architecture draws it anew")

    def test_no_module_is_too_long_to_be_read(self) -> None:
        for path in Path("cross_staff").rglob("*.py"):
            self.assertLess(len(path.read_text().splitlines()), 500, path)

    def test_no_line_of_a_template_is_longer_than_a_window(self) -> None:
        for path in (*TEMPLATES.rglob("*.html"), *TEMPLATES.rglob("*.svg")):
            self.assertLessEqual(max(map(len, path.read_text().splitlines())), 160, path)

    def test_templates_reckon_nothing(self) -> None:
        for path in (*TEMPLATES.rglob("*.html"), *TEMPLATES.rglob("*.svg")):
            reckoned = [n.lineno for kind in ARITHMETIC for n in _ENVIRONMENT.parse(path.read_text()).find_all(kind)]
            self.assertEqual(reckoned, [], path)

    def test_every_field_is_drawn_by_the_macro(self) -> None:
        for path in TEMPLATES.rglob("*.html"):
            by_hand = re.findall(r'<div class="field[ "{]', path.read_text())
            self.assertEqual(len(by_hand), int(path.name == "_field.html"), path)

    def test_type_and_space_come_from_their_scales(self) -> None:
        made_up = re.compile(r"(?:font(?:-size)?|margin|padding|gap)[a-z-]*:[^;}]*?(?<![\w.(])[0-9.]+px")
        free = {"padding-top: 37px", "font: 600 var(--t3)/40px"}  # of the staff's cross-pieces; the height of a field
        for path in STYLES.rglob("*.css"):
            if path.name != "tokens.css":
                self.assertLessEqual({words.strip() for words in made_up.findall(path.read_text())}, free, path)

    def test_eight_sizes_of_type_at_most(self) -> None:
        tokens = (STYLES / "shared/tokens.css").read_text()
        self.assertLessEqual(len(re.findall(r"--t\d: ", tokens)), 8)


if __name__ == "__main__":
    unittest.main()
