"""What a form refuses, the services refuse: a file, a device or a script cannot store it either."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import replace

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.sight_in.log import Move, RangeSession
from cross_staff.services import bench
from cross_staff.services import log as entries
from cross_staff.services.card import save as card
from cross_staff.services.card import sight_library as sights
from cross_staff.services.level import record as level
from cross_staff.services.mount import record as mount
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import moves
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from tests.data import WithDatabase
from tests.rigs import NOON, full_card


class Refusals(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = bench.add(self.database, "Test bow", "", {}, NOON)
        card.save(self.database, self.rig_id, 1, full_card(), {}, NOON)

    def refused(self, field: str, message: str, act: Callable[[], object]) -> None:
        with self.subTest(field=field, message=message):
            before = open_rig(self.database, self.rig_id).version
            with self.assertRaises(InvalidValue) as refusal:
                act()
            self.assertEqual(refusal.exception.field, field)
            self.assertIn(message, refusal.exception.message)
            self.assertEqual(open_rig(self.database, self.rig_id).version, before)

    def entry(self, station: str, key: str, **what: object) -> None:
        entries.enter(self.database, self.rig_id, BenchEntry(station, key, 0, NOON, **what))  # type: ignore[arg-type]

    def test_the_card(self) -> None:
        full, goals = full_card(), full_card().goals
        for field, message, wrong in (
            ("goals.farthest_m", "farther than home", replace(full, goals=replace(goals, farthest_m=10.0))),
            ("goals.pin_distances_m", "nearest", replace(full, goals=replace(goals, pin_distances_m=(40.0, 20.0)))),
            ("goals.pin_distances_m", "only once", replace(full, goals=replace(goals, pin_distances_m=(20.0, 20.0)))),
            ("name", "needs a name", replace(full, name="")),
        ):  # fmt: skip
            self.refused(field, message, lambda wrong=wrong: card.save(self.database, self.rig_id, 2, wrong, {}, NOON))
        self.refused("name", "needs a name", lambda: bench.add(self.database, "", "", {}, NOON))
        odd = SightModel("odd", slider_travel_mm=-4.0)
        self.refused("slider_travel_mm", "between", lambda: sights.add(self.database, odd, NOON))

    def test_marks(self) -> None:
        for field, message, edit in (
            ("distance", "between 2 and 200 m", RowEdit(5000.0, 20.0)),
            ("mark", "between -500 and 500 mm", RowEdit(17.0, 9000.0)),
            ("pin", "the card lists one pin", RowEdit(17.0, 20.0, pin=40)),
            ("up", "between -3 and 3", RowEdit(17.0, 20.0, up_m=9.0)),
            ("arrows", "between 1 and 99", RowEdit(17.0, 20.0, arrows=0)),
            ("reason", "write why", RowEdit(17.0, 20.0, left_out=True)),
            ("reason", "write why", RowEdit(17.0, 20.0, left_out=True, reason="gusts")),
        ):
            both = [RowEdit(38.0, 30.0), edit]
            self.refused(field, message, lambda both=both: tape.save_rows(self.database, self.rig_id, both, NOON))

    def test_the_bench_sheet_and_the_mount(self) -> None:
        self.refused("choice", "choose one", lambda: self.entry("prepare", "d_loop", choice="wobbly"))
        self.refused("number", "type a number", lambda: self.entry("prepare", "rest_centred"))
        self.refused("number", "between -0.05", lambda: self.entry("prepare", "rest_centred", number=2.0))
        self.refused("right", "type a number", lambda: self.entry("prepare", "paper_tear"))
        self.refused(
            "after", "choose one", lambda: self.entry("prepare", "paper_tear", points=((0.0, 0.0),), after="hope")
        )
        self.refused("up", "between", lambda: self.entry("prepare", "paper_tear", points=((0.0, 5.0),)))
        self.refused("distance", "type a number", lambda: self.entry("prepare", "bare_shaft", points=((0.0, 0.0),)))
        near = ((10.0, 0.0), (10.0, 0.1), (20.0, 0.0))
        self.refused("distance", "three distances", lambda: self.entry("prepare", "walk_back", points=near))
        gate = BenchEntry("", "", 0, NOON, note="hurry")
        self.refused("reason", "write why", lambda: prepare.override_gate(self.database, self.rig_id, gate))
        self.refused("note", "who confirms", lambda: self.entry("mount", "play", choice="skipped"))
        self.refused("state", "choose one", lambda: self.entry("mount", "play", choice="perhaps"))
        self.refused(
            "joint", "which joint", lambda: mount.mark_joint(self.database, self.rig_id, "", "left", None, NOON)
        )
        self.refused(
            "place", "add a photo", lambda: mount.mark_joint(self.database, self.rig_id, "rest", "", None, NOON)
        )

    def test_level_and_range(self) -> None:
        self.refused(
            "side", "more than a line", lambda: level.plumb(self.database, self.rig_id, level.PlumbSeen(3.0, 0.0), NOON)
        )
        self.refused("reason", "write why", lambda: self.entry("level", "accept_first"))
        self.refused(
            "circle", "between 0.01 and 1", lambda: sight_in.set_circle(self.database, self.rig_id, -3.0, NOON)
        )
        self.refused("face", "choose one", lambda: sight_in.set_face(self.database, self.rig_id, "stag", 0.1, NOON))
        self.refused("face_size", "between", lambda: sight_in.set_face(self.database, self.rig_id, "dot", 9.0, NOON))
        self.refused(
            "confirmed_by",
            "who confirms",
            lambda: self.entry("sight_in", "step:lock", choice="skipped"),
        )
        self.refused("counts", "choose one", lambda: self.session(counts="double"))
        self.refused("crosswind", "between", lambda: self.session(crosswind_mps=90.0))
        self.refused(
            "hundred_clicks", "between", lambda: sight_in.calibrate_click(self.database, self.rig_id, 50.0, NOON)
        )
        end = EndDraft("e1", 17.0, dial_mm=900.0)
        self.refused("dial", "between -200 and 400", lambda: save_end(self.database, self.rig_id, end, NOON))
        far = Move("m1", 0, NOON, "Oar", "", 9000.0, "")
        self.refused("drive", "one of the sight's", lambda: moves.own_move(self.database, self.rig_id, far, NOON))

    def session(self, **what: object) -> None:
        sight_in.save_session(self.database, self.rig_id, RangeSession(0, 0, NOON, **what), NOON)  # type: ignore[arg-type]

    def test_what_there_is_not(self) -> None:
        for station, key in (
            ("prepare", "polish"), ("prepare", "arrow_built"), ("mount", "polish"), ("level", "accept_fourth"),
            ("sight_in", "step:polish"), ("sight_in", "choose:colour"), ("sight_in", "mood"), ("tape", "length"),
            ("roof", "slates"),
        ):  # fmt: skip
            with self.subTest(station=station, key=key), self.assertRaises(NotFound):
                self.entry(station, key, choice="done")
        with self.assertRaises(NotFound):
            sight_in.choose(self.database, self.rig_id, "stop", "elastic", NOON)


if __name__ == "__main__":
    unittest.main()
