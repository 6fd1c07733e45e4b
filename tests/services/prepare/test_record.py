from dataclasses import replace

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.staleness import Said
from cross_staff.core.stations import next_step
from cross_staff.services import log as entries
from cross_staff.services.card import save as card
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import open_rig
from tests.data import WithDatabase
from tests.rigs import NOON
from tests.shop import passing


class Sheet(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()

    def enter(self, key: str, **what: object) -> None:
        entries.enter(self.database, self.rig_id, BenchEntry("prepare", key, 0, NOON, **what))  # type: ignore[arg-type]

    @property
    def rig(self):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id)

    def test_an_entry_is_made_at_the_revision_that_holds(self) -> None:
        self.enter("d_loop", choice="good")
        self.assertEqual([e.revision for e in self.rig.log_of("prepare")], [2])
        with self.assertRaises(NotFound):
            entries.enter(self.database, 99, BenchEntry("prepare", "d_loop", 0, NOON, choice="good"))

    def test_the_same_again_is_kept_once_but_a_new_answer_is_added(self) -> None:
        for choice in ("good", "good", "loose", "good"):
            self.enter("d_loop", choice=choice)
        self.assertEqual([e.choice for e in self.rig.log_of("prepare")], ["good", "loose", "good"])

    def test_the_same_tear_after_a_step_is_another_reading(self) -> None:
        for _ in range(2):
            self.enter("paper_tear", points=((0.01, 0.0),), after="grip")
        self.assertEqual(len(self.rig.log_of("prepare")), 2)

    def test_taking_back_keeps_both(self) -> None:
        self.enter("d_loop", choice="loose")
        entries.take_back(self.database, self.rig_id, BenchEntry("prepare", "d_loop", 0, NOON))
        self.assertEqual([e.removed for e in self.rig.log_of("prepare")], [False, True])
        self.assertEqual(self.rig.checklist.line("d_loop").verdict, "unknown")
        with self.assertRaisesRegex(NotFound, "nothing to take back"):
            entries.take_back(self.database, self.rig_id, BenchEntry("prepare", "d_loop", 0, NOON))

    def test_a_reason_must_be_written(self) -> None:
        for note in ("", "ok", "   "):
            with self.assertRaisesRegex(InvalidValue, "write why"):
                prepare.override_gate(self.database, self.rig_id, BenchEntry("", "", 0, NOON, note=note))
        prepare.override_gate(self.database, self.rig_id, BenchEntry("", "", 0, NOON, note="archer agrees to it"))
        self.assertEqual((self.rig.checklist.override.key, self.rig.checklist.gate_open), (OVERRIDE, True))

    def test_the_order_of_the_work(self) -> None:
        self.assertEqual(next_step(self.rig.state).station, "prepare")
        for entry in passing():
            entries.enter(self.database, self.rig_id, entry)
        self.assertEqual(next_step(self.rig.state).station, "mount")
        for state in self.rig.steps:
            done = BenchEntry("mount", state.step.key, 0, NOON, choice="done")
            entries.enter(self.database, self.rig_id, done)
        self.assertEqual((next_step(self.rig.state).station, next_step(self.rig.state).code), ("level", "reference"))
        moved = replace(self.rig.card, eye_to_sight_m=0.80)
        card.save(self.database, self.rig_id, 2, moved, {}, NOON, "moved in")
        self.assertEqual(next_step(self.rig.state).station, "mount")
        self.assertEqual(
            [s.state for s in self.rig.standings], ["done", "done", "stale", "due", "due", "due", "blocked"]
        )
        card.save(self.database, self.rig_id, 3, moved, {}, NOON, "new string", Said(("strings",)))
        self.assertEqual(next_step(self.rig.state).station, "prepare")
