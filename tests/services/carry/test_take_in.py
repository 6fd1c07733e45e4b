from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import timedelta
from unittest import mock

from cross_staff.core.carry.relation import Lies
from cross_staff.core.errors import InvalidValue
from cross_staff.core.estimation.groups import Shot
from cross_staff.services import bench
from cross_staff.services.bench import Asked
from cross_staff.services.carry.documents import INSTRUMENTS, RIG, Document, Unreadable, archived, read, written
from cross_staff.services.carry.take_in import preview, take_in
from cross_staff.services.carry.write import instruments_file, rig_file, rig_named, sight_file, whole_rig, write_all
from cross_staff.services.events import happened
from cross_staff.services.level import instruments
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in.ends import EndDraft, import_ends, take_import_back
from cross_staff.storage import carried, printed_tapes, range_log, rigs, sight_models, whole_rigs, witness_marks
from cross_staff.storage.database import Database
from tests import carried as made
from tests.data import WithDatabase
from tests.rigs import NOON, TEMPLATES
from tests.shop import Shop


class Taking(WithDatabase):
    """A second shop, with other numbers for everything, beside the first."""

    def setUp(self) -> None:
        super().setUp()
        self.other = Database(self.file.with_name("other.sqlite3"))
        self.addCleanup(self.other.close)
        self.other.migrate()
        busy = Shop(self.other, {})
        first = busy.rig()
        busy.marks(first, 17.0, 38.0, 61.0)
        busy.printed(first)
        busy.end(first, "x", 26.0)

    def take(self, database: Database, content: bytes, beside: bool = False) -> int:
        taken = take_in(database, read(content), NOON + timedelta(days=9), beside)
        assert taken.rig_id is not None
        return taken.rig_id

    def carry(self, rig_id: int, ending: str = "json") -> bytes:
        return rig_file(self.database, rig_id, ending).content

    def shot_in(self) -> int:
        """A rig with marks, ends, a printed tape on the sight, and lines of proof."""
        shop = self.shop
        rig_id = shop.ready()
        shop.marks(rig_id, 17.0, 38.0, 61.0, 78.0)
        shop.end(rig_id, "e1", 26.0, dial_mm=24.0)
        shop.printed(rig_id)
        for day, ranged in enumerate((26.0, 61.0, 47.0)):
            shop.proof(rig_id, day, ranged, -0.01)
        return rig_id

    def test_a_rig_is_the_same_in_another_shop_to_the_byte(self) -> None:
        rig_id = self.shot_in()
        content = self.carry(rig_id)
        there = self.take(self.other, content)
        self.assertEqual(rig_file(self.other, there, "json").content, content)
        self.assertEqual(open_rig(self.other, there).prove, replace_ids(self.database, self.other, rig_id, there))

    def test_verdict_and_standings_are_those_of_the_first_shop(self) -> None:
        rig_id = self.shot_in()
        there = self.take(self.other, self.carry(rig_id))
        mine, theirs = open_rig(self.database, rig_id), open_rig(self.other, there)
        self.assertEqual([s.state for s in mine.standings], [s.state for s in theirs.standings])
        self.assertEqual(mine.prove.current.verdict, theirs.prove.current.verdict)  # type: ignore[union-attr]
        self.assertEqual(mine.evaluation.fit, theirs.evaluation.fit)

    def test_the_number_on_a_printed_tape_stays_and_the_next_is_another(self) -> None:
        rig_id = self.shot_in()
        there = self.take(self.other, self.carry(rig_id))
        with self.other.reading() as connection:
            numbers = [kept.number for kept in printed_tapes.of_rig(connection, there)]
        self.assertEqual(numbers, [1])
        self.assertEqual(Shop(self.other, {}).printed(there, 61.0), "strip 2.0")

    def test_what_went_on_at_the_range_comes_home(self) -> None:
        rig_id = self.shot_in()
        there = self.take(self.other, self.carry(rig_id))
        away = Shop(self.other, {}, NOON + timedelta(days=3))
        away.end(there, "e7", 38.0, dial_mm=28.0)
        away.proof(there, 9, 61.0, 0.0)
        content = rig_file(self.other, there, "json").content
        seen = preview(self.database, read(content))
        self.assertEqual((seen.parts[0].relation.lies, seen.parts[0].here), (Lies.AHEAD, rig_id))
        self.assertEqual(dict(seen.parts[0].relation.brings)["range_shots"], 6)
        self.assertEqual(self.take(self.database, content), rig_id)
        self.assertEqual(self.carry(rig_id), content)
        self.assertEqual(self.take(self.database, content), rig_id)
        self.assertEqual(self.carry(rig_id), content)

    def test_an_older_file_takes_nothing_away(self) -> None:
        rig_id = self.shot_in()
        old = self.carry(rig_id)
        self.shop.end(rig_id, "e8", 38.0)
        now = self.carry(rig_id)
        self.assertEqual(preview(self.database, read(old)).parts[0].relation.lies, Lies.BEHIND)
        self.assertFalse(preview(self.database, read(old)).brings)
        self.take(self.database, old)
        self.assertEqual(self.carry(rig_id), now)

    def test_where_both_went_on_at_different_things_they_join(self) -> None:
        rig_id = self.shot_in()
        there = self.take(self.other, self.carry(rig_id))
        Shop(self.other, {}).end(there, "away", 38.0)
        self.shop.marks(rig_id, 47.0)
        content = rig_file(self.other, there, "json").content
        seen = preview(self.database, read(content))
        self.assertEqual((seen.parts[0].relation.lies, seen.brings), (Lies.JOINS, True))
        self.assertEqual(self.take(self.database, content), rig_id)
        rig = open_rig(self.database, rig_id)
        self.assertEqual(([end.key for end in rig.every_end], len(rig.log)), (["e1", "away"], 5))
        self.take(self.other, self.carry(rig_id))
        self.assertEqual(rig_file(self.other, there, "json").content, self.carry(rig_id))

    def test_a_card_that_was_changed_meanwhile_is_not_joined(self) -> None:
        rig_id = self.shot_in()
        there = self.take(self.other, self.carry(rig_id))
        Shop(self.other, {}).end(there, "away", 38.0)
        happened(self.database, rig_id, ("d_loop",), "", NOON + timedelta(days=5))
        seen = preview(self.database, read(rig_file(self.other, there, "json").content))
        self.assertEqual(seen.parts[0].relation.lies, Lies.PARTED)

    def test_where_both_went_on_both_are_kept(self) -> None:
        rig_id = self.shot_in()
        there = self.take(self.other, self.carry(rig_id))
        Shop(self.other, {}).end(there, "away", 38.0)
        self.shop.end(rig_id, "home", 38.0)
        now, content = self.carry(rig_id), rig_file(self.other, there, "json").content
        seen = preview(self.database, read(content))
        self.assertTrue(seen.parted and not seen.brings)
        with self.assertRaisesRegex(InvalidValue, "both went on since they parted"):
            take_in(self.database, read(content), NOON)
        beside = self.take(self.database, content, beside=True)
        self.assertNotEqual(beside, rig_id)
        self.assertEqual(self.carry(rig_id), now)
        second = open_rig(self.database, beside)
        self.assertEqual((second.card.name, second.revision.why[:8]), ("Test bow, from a file", "taken in"))
        self.assertIn("away", [end.key for end in second.every_end])

    def test_a_twin_tells_nothing_of_the_rig_that_it_was_one_with(self) -> None:
        """The same arrows counted twice would make the archer's days, and a screw, look surer than they are."""
        rig_id = self.shot_in()
        alone = open_rig(self.database, rig_id).evaluation.scatter
        plain = whole_rig(self.database, rig_id)
        edited = replace(plain.observations[0], mark_mm=plain.observations[0].mark_mm + 0.1)
        twin = self.take(self.database, written(RIG, replace(plain, observations=(edited,))), beside=True)
        archer, sight = plain.card.archer, plain.card.sight.name
        for each in (rig_id, twin):
            with self.database.reading() as connection:
                self.assertEqual(rigs.versions_with_archer(connection, each, archer, 8), [])
                self.assertEqual(rigs.versions_with_sight(connection, each, sight, 8), [])
        self.assertEqual(open_rig(self.database, rig_id).evaluation.scatter, alone)
        other = self.shop.rig()
        with self.database.reading() as connection:
            told = rigs.versions_with_archer(connection, other, archer, 8)
        self.assertEqual([number for number, _ in told], [twin])
        self.assertEqual(whole_rig(self.database, twin).origin, plain.uid)

    def test_an_import_that_travelled_can_still_be_taken_back(self) -> None:
        rig_id = self.shop.ready()
        self.shop.end(rig_id, "e1", 17.0)
        import_ends(self.database, rig_id, [EndDraft("in", 26.0, shots=(Shot(0.0, 0.0, False, "k"),))], self.shop.now())
        there = self.take(self.other, self.carry(rig_id))
        self.assertEqual(take_import_back(self.other, there, NOON), 1)
        with self.other.reading() as connection:
            ends = {end.key: (len(end.shots), end.removed) for end in range_log.ends(connection, there)}
        self.assertEqual(ends, {"e1": (6, False), "in": (0, True)})

    def test_photos_come_with_the_zip_or_later(self) -> None:
        rig = made.whole_rig()
        there = self.take(self.other, written(RIG, rig))
        self.assertEqual(preview(self.other, read(written(RIG, rig))).without_picture, 2)
        with self.other.reading() as connection:
            self.assertEqual(witness_marks.photo_ids(connection, there), frozenset())
        seen = preview(self.other, read(archived(rig, made.PICTURES)))
        self.assertEqual((seen.pictures, seen.without_picture, seen.brings), (2, 0, True))
        self.assertEqual(self.take(self.other, archived(rig, made.PICTURES)), there)
        self.assertEqual(rig_file(self.other, there, "zip").content, archived(rig, made.PICTURES))

    def test_the_shops_instruments_come_along_and_are_the_same_again(self) -> None:
        rig = made.whole_rig()
        Shop(self.other, {})
        mine = instruments.add(self.other, made.carried_instrument("a" * 32).log[0].instrument, NOON)
        there = self.take(self.other, written(RIG, rig))
        number = open_rig(self.other, there).card.level.instrument("reference")
        self.assertNotIn(number, (None, mine))
        self.assertEqual(rig_file(self.other, there, "json").content, written(RIG, rig))
        second = self.take(self.other, written(RIG, replace(made.whole_rig("9" * 32), photos=rig.photos)))
        self.assertEqual(open_rig(self.other, second).card.level.instrument("reference"), number)

    def test_an_instrument_that_went_on_here_stays_as_it_is(self) -> None:
        two = made.carried_instrument("f" * 32, numbers=2)
        take_in(self.other, Document(INSTRUMENTS, (two,)), NOON)
        self.take(self.other, written(RIG, made.whole_rig()))
        with self.other.reading() as connection:
            self.assertEqual(carried.instrument(connection, "f" * 32), two)

    def test_a_rig_that_comes_to_nothing_leaves_nothing(self) -> None:
        rig = made.whole_rig()
        broken = replace(rig.observations[1], ranged_m=200.0, mark_mm=1e-300)
        before = len(bench.every(self.other))
        document = Document(RIG, replace(rig, observations=(broken,)))
        with coming_to_nothing(), self.assertRaisesRegex(Unreadable, "cannot be worked out together"):
            take_in(self.other, document, NOON)
        self.assertEqual(len(bench.every(self.other)), before)

    def test_a_sight_model_travels(self) -> None:
        with self.database.writing() as connection:
            model = sight_models.add(connection, TEMPLATES["target_scope"], NOON)
            sight_models.change(connection, model, 1, replace(TEMPLATES["target_scope"], name="mine"), NOON)
        file = sight_file(self.database, model)
        self.assertEqual(file.name, "sight-mine.json")
        self.assertEqual(take_in(self.other, read(file.content), NOON).records, 2)
        self.assertEqual(take_in(self.other, read(file.content), NOON).records, 0)
        with self.other.reading() as connection:
            (number,) = carried.sight_uids(connection)
        self.assertEqual(sight_file(self.other, number).content, file.content)

    def test_instruments_travel_whatever_their_numbers(self) -> None:
        for name in ("b", "a"):
            instruments.add(self.database, made.carried_instrument("0" * 32, name).log[0].instrument, NOON)
        file = instruments_file(self.database)
        take_in(self.other, read(file.content), NOON)
        self.assertEqual(instruments_file(self.other).content, file.content)

    def test_a_copy_is_another_rig(self) -> None:
        rig_id = self.shop.rig()
        copy = bench.copy(self.database, rig_id, NOON)
        self.assertNotEqual(whole_rig(self.database, rig_id).uid, whole_rig(self.database, copy).uid)

    def test_a_rig_is_found_by_number_identity_or_name(self) -> None:
        rig_id = self.shop.new("Grey bow")
        self.shop.new("Twin")
        self.shop.new("twin")
        uid = whole_rig(self.database, rig_id).uid
        self.assertEqual({rig_named(self.database, words) for words in (str(rig_id), uid, "grey BOW")}, {rig_id})
        with self.assertRaisesRegex(InvalidValue, "is the name of rigs 2, 3"):
            rig_named(self.database, "Twin")

    def test_everything_goes_into_a_folder_and_comes_out_of_it(self) -> None:
        self.shot_in()
        self.shop.new("Test bow")
        folder = self.file.parent / "out"
        count = write_all(self.database, folder)
        files = sorted(folder.iterdir())
        self.assertEqual(len(files), count)
        for file in files:
            take_in(self.other, read(file.read_bytes()), NOON)
        self.assertEqual(len(bench.bench(self.other, Asked()).lines), 3)


def replace_ids(first: Database, other: Database, rig_id: int, there: int) -> object:
    """How the rig of the first shop is proven, with the numbers that its records have in the other."""
    with first.reading() as one, other.reading() as two:
        mine, theirs = (whole_rigs.numbers(c, r, "bench_entries") for c, r in ((one, rig_id), (two, there)))
        lines = [whole_rigs.numbers(c, r, "proof_lines") for c, r in ((one, rig_id), (two, there))]
    entry, line = dict(zip(mine, theirs)), dict(zip(*lines))
    prove = open_rig(first, rig_id).prove

    def moved(each):  # type: ignore[no-untyped-def]
        return replace(each, laying=entry.get(each.laying, 0), entry_id=line[each.entry_id])

    current = prove.current
    assert current is not None
    chain = replace(current, laying=entry[current.laying], lines=tuple(map(moved, current.lines)))
    return replace(prove, current=chain, lines=tuple(map(moved, prove.lines)))


def coming_to_nothing():  # type: ignore[no-untyped-def]
    """As if a sound record after the other came to nothing together."""
    return mock.patch("cross_staff.services.carry.take_in.evaluated", side_effect=ZeroDivisionError("nothing"))


if __name__ == "__main__":
    unittest.main()
