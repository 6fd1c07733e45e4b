"""Pages word and draw what services worked out: which functions of the core they may call at all."""

from __future__ import annotations

import ast
import importlib
import inspect
import unittest
from pathlib import Path

WEB = Path("cross_staff/web")
# what a page may ask of a record that it has, or of a form that was typed, before a service is called
SMALL = {
    "sight_in.orders.read_order", "prove.handover.differences",
    "card.compare_builds.compare", "card.faults.faults", "card.faults.sight_faults", "rig.peep.looks_along_string",
    "rig.pins.may_be_dialled", "rig.arrow_build.usual_centre", "mount.station.goes_on_first",
    "rig.sight.tool_list", "rig.sight_kinds.kind_of", "rig.staleness.causes", "rig.instrument.overdue",
    "level.axis.adjusts", "level.rests.rests_at",
    "level.axis.screw_of", "level.axis.moves_freely", "level.units.beside", "level.units.kind_beside",
    "rig.correction.changes",
    "rig.events.keeps_spans",
    "rig.staleness.made_stale", "rig.log.standing", "rig.log.check_reason", "stations.next_step", "stations.tape_step",
    "stations.contradiction_step",
    "stations.reproof_step", "level.vials.line_from_shim", "level.vials.reversal",
    "prepare.station.readings", "rig.log.check_pin", "tape.comparison.compared", "tape.comparison.days",
    "tape.comparison.layings", "tape.layout.tape_rows", "tape.scale.seats", "tape.scale.whole_units",
    "photos.uses.scale_of", "photos.overlay.laid_over", "photos.overlay.shift",
    "tape.booklet.strip_errors", "printing.pin_template.pin_template",
}  # fmt: skip


def functions_of_core(path: Path) -> set[str]:
    """Functions of the core that a module imports, by module and name."""
    functions: set[str] = set()
    tree, modules = ast.parse(path.read_text()), {}
    for node in ast.walk(tree):
        if not isinstance(node, ast.ImportFrom) or not (node.module or "").startswith("cross_staff.core"):
            continue
        home = importlib.import_module(node.module or "")
        for name in node.names:
            thing = getattr(home, name.name)
            if inspect.ismodule(thing):
                modules[name.asname or name.name] = thing
            elif _is_function(thing):
                functions.add(f"{home.__name__}.{name.name}".removeprefix("cross_staff.core."))
    for node in ast.walk(tree):
        if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name) and node.value.id in modules:
            home = modules[node.value.id]
            if _is_function(getattr(home, node.attr, None)):
                functions.add(f"{home.__name__}.{node.attr}".removeprefix("cross_staff.core."))
    return functions


def _is_function(thing: object) -> bool:
    return inspect.isfunction(thing) or hasattr(thing, "cache_info")


PAGES = [path for path in sorted(WEB.rglob("*.py")) if "api" not in path.parts]


class Floors(unittest.TestCase):
    def test_words_and_drawings_take_records_and_call_nothing_of_the_core(self) -> None:
        plain = [p for p in PAGES if p.stem.endswith("words") or p.stem.endswith("drawing")]
        self.assertGreater(len(plain), 12)
        for path in plain:
            self.assertEqual(functions_of_core(path), set(), path)

    def test_pages_leave_the_reckoning_to_services(self) -> None:
        for path in PAGES:
            self.assertLessEqual(functions_of_core(path), SMALL, path)

    def test_nothing_is_allowed_that_no_page_asks(self) -> None:
        self.assertEqual(set().union(*map(functions_of_core, PAGES)), SMALL)


if __name__ == "__main__":
    unittest.main()
