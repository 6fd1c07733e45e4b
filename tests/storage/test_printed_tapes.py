"""Printed tapes in a real file, and marks with their pin and reason."""

from __future__ import annotations

from dataclasses import replace

from pydantic import TypeAdapter
from sqlalchemy import delete, insert, update
from sqlalchemy.exc import IntegrityError

from cross_staff.core.printing.sheet import PrintedTape, SheetStyle
from cross_staff.core.tape.layout import Wanted
from cross_staff.services.card import save as card
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import OtherEdge, RowEdit, StripWords
from cross_staff.storage import observations
from cross_staff.storage.tables import printed_tapes
from tests.data import WithDatabase
from tests.rigs import NOON, TEMPLATES, true_mark


class Printed(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        tape.save_rows(self.database, self.rig_id, [RowEdit(d, true_mark(d)) for d in (17.0, 61.0)], NOON)

    def keep(self) -> int:
        rig = open_rig(self.database, self.rig_id)
        style = SheetStyle(width_mm=12.0, other_edge="in yd")
        other = OtherEdge(unit_m=0.9144)
        words = StripWords(("Test bow",), ("a", "b", "c"))
        printed = tape.printed(rig, Wanted(17.0, 95.0), style, words, other)
        return tape.keep_printed(self.database, self.rig_id, printed, NOON)

    def test_it_comes_back_as_it_was(self) -> None:
        number = self.keep()
        kept = tape.printed_one(self.database, self.rig_id, number)
        self.assertEqual((kept.revision, kept.printed), (2, NOON))
        self.assertEqual([len(strip.edges) for strip in kept.tape.strips], [2, 2, 2])
        tape.save_rows(self.database, self.rig_id, [RowEdit(38.0, true_mark(38.0) + 0.5)], NOON)
        self.assertEqual(tape.printed_one(self.database, self.rig_id, number).tape.sheet(), kept.tape.sheet())
        self.assertNotEqual(self.keep(), number)
        self.assertEqual(self.keep(), number + 1)

    def test_one_of_the_first_layout_is_printed_again_as_it_was(self) -> None:
        """Three strips by their scale about home; their ticks knew no reach."""
        sheet = TypeAdapter(PrintedTape).dump_python(
            tape.printed_one(self.database, self.rig_id, self.keep()).tape, mode="json"
        )
        strips = sheet.pop("strips")
        for edge in (edge for strip in strips for edge in strip["edges"]):
            for tick in edge["ticks"]:
                del tick["beyond"]
        scales = zip((0.99, 1.0, 1.01), strips)
        old = sheet | {"tapes": [[scale, strip["edges"]] for scale, strip in scales]}
        with self.database.writing() as connection:
            values = {"rig_id": self.rig_id, "revision": 1, "printed_utc": NOON.replace(tzinfo=None), "sheet": old}
            connection.execute(insert(printed_tapes).values(**values))
        kept = tape.printed_of(self.database, self.rig_id)[-1].tape
        self.assertEqual([strip.name for strip in kept.strips], ["× 0.99", "fitted", "× 1.01"])
        self.assertEqual([strip.home for strip in kept.strips], ["", "", ""])
        self.assertIn("× 1.01", [text.words for text in kept.sheet().pages[0].texts])

    def test_a_printed_tape_is_never_changed(self) -> None:
        self.keep()
        for act in (update(printed_tapes).values(revision=9), delete(printed_tapes)):
            with self.assertRaises(IntegrityError), self.database.writing() as connection:
                connection.execute(act)

    def test_marks_keep_their_pin_and_why_they_were_left_out(self) -> None:
        several = replace(open_rig(self.database, self.rig_id).card, sight=TEMPLATES["multi_pin_slider"])
        card.save(self.database, self.rig_id, 2, several, {}, NOON)
        edit = RowEdit(47.0, 30.0, left_out=True, pin=1, reason="shot in the dusk")
        tape.save_rows(self.database, self.rig_id, [edit], NOON)
        with self.database.reading() as connection:
            entry = observations.log(connection, self.rig_id)[-1]
        self.assertEqual((entry.pin, entry.reason, entry.left_out), (1, "shot in the dusk", True))
