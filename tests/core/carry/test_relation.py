from __future__ import annotations

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from cross_staff.core.carry.relation import Lies, of_rig, relation
from tests.carried import whole_rig

_LOGS = st.fixed_dictionaries({name: st.lists(st.integers(0, 2), max_size=4).map(tuple) for name in "ab"})


class Relations(unittest.TestCase):
    def test_a_rig_that_is_not_here_is_new(self) -> None:
        lies = of_rig(None, whole_rig())
        self.assertEqual((lies.lies, lies.brings["range_shots"], dict(lies.lacks)), (Lies.NEW, 3, {}))

    def test_the_same_records_are_the_same_rig(self) -> None:
        self.assertEqual(of_rig(whole_rig(), whole_rig()).lies, Lies.SAME)

    def test_units_and_bench_are_no_records(self) -> None:
        self.assertEqual(of_rig(whole_rig(), replace(whole_rig(), archived=True, units={})).lies, Lies.SAME)

    def test_more_in_a_log_is_ahead_and_less_behind(self) -> None:
        more = whole_rig()
        less = replace(more, observations=more.observations[:1], range_shots=more.range_shots[:2])
        self.assertEqual(dict(of_rig(less, more).brings), {"observations": 2, "range_shots": 1})
        self.assertEqual((of_rig(less, more).lies, of_rig(more, less).lies), (Lies.AHEAD, Lies.BEHIND))

    def test_both_that_went_on_have_parted(self) -> None:
        rig = whole_rig()
        here = replace(rig, observations=rig.observations[:1])
        there = replace(rig, observations=rig.observations[1:])
        self.assertEqual(of_rig(here, there).lies, Lies.PARTED)
        edited = replace(rig, observations=(replace(rig.observations[0], mark_mm=9.0), *rig.observations[1:]))
        self.assertEqual(of_rig(rig, edited).lies, Lies.PARTED)

    def test_different_things_join_unless_they_hang_together(self) -> None:
        rig = whole_rig()
        for mine, theirs, lies in (
            ({"proof_lines": ()}, {"observations": ()}, Lies.JOINS),
            ({"proof_lines": ()}, {"range_shots": (), "range_ends": ()}, Lies.JOINS),
            ({"bench_entries": rig.bench_entries[:3]}, {"observations": ()}, Lies.JOINS),
            ({"bench_entries": rig.bench_entries[:3]}, {"range_shots": (), "range_ends": ()}, Lies.PARTED),
            ({"level_readings": ()}, {"bench_entries": rig.bench_entries[:3]}, Lies.PARTED),
            ({"range_moves": ()}, {"range_shots": rig.range_shots[:1]}, Lies.PARTED),
            ({"revisions": rig.revisions[:2]}, {"observations": ()}, Lies.PARTED),
            ({"observations": ()}, {"revisions": rig.revisions[:2]}, Lies.PARTED),
        ):
            with self.subTest(mine=mine, theirs=theirs):
                self.assertEqual(of_rig(replace(rig, **mine), replace(rig, **theirs)).lies, lies)  # type: ignore[arg-type]

    @given(_LOGS, _LOGS)
    def test_ahead_here_is_behind_there(self, here: dict, there: dict) -> None:
        turned = {Lies.AHEAD: Lies.BEHIND, Lies.BEHIND: Lies.AHEAD}
        one, other = relation(here, there), relation(there, here)
        self.assertEqual(other.lies, turned.get(one.lies, one.lies))
        self.assertEqual((dict(other.brings), dict(other.lacks)), (dict(one.lacks), dict(one.brings)))

    @given(_LOGS, st.lists(st.integers(0, 2), min_size=1, max_size=3))
    def test_what_was_only_added_to_is_ahead(self, here: dict, added: list) -> None:
        lies = relation(here, here | {"a": (*here["a"], *added)})
        self.assertEqual((lies.lies, dict(lies.brings)), (Lies.AHEAD, {"a": len(added)}))


if __name__ == "__main__":
    unittest.main()
