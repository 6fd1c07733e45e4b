from cross_staff.core.estimation.groups import suspects
from cross_staff.core.mount.planner import plan_all
from cross_staff.core.prove.verdict import VerdictKind
from cross_staff.demo.shop import fill
from cross_staff.services import bench
from cross_staff.services.prove.sides import triage_of
from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage.database import Database
from tests.data import WithDatabase, put_database


class Scenario(WithDatabase):
    @property
    def rows(self) -> dict[str, Rig]:
        rows = [open_rig(self.database, rig_id) for rig_id in bench.every(self.database)]
        return {row.card.name.split(" ")[0]: row for row in rows}

    fill_with = staticmethod(fill)

    def test_rigs_in_different_states(self) -> None:
        states = {name: tuple(each.state for each in row.standings) for name, row in self.rows.items()}
        self.assertEqual(
            states,
            {
                "Ledge": ("done", "done", "done", "done", "done", "due", "blocked"),
                "Terrace": ("done", "done", "done", "due", "done", "due", "blocked"),
                "Tower": ("done", "done", "done", "done", "done", "done", "due"),
                "Cartway": ("done", "done", "done", "done", "stale", "stale", "blocked"),
                "Kiln": ("due", "due", "due", "blocked", "blocked", "blocked", "blocked"),
                "Wicket": ("done", "due", "due", "blocked", "due", "due", "due"),
                "Gantry": ("done", "done", "done", "done", "due", "due", "blocked"),
                "Chapel": ("done", "done", "done", "done", "done", "done", "blocked"),
                "Incline": ("done", "done", "done", "done", "done", "done", "done"),
                "Hoist": ("done", "done", "done", "done", "done", "done", "stale"),
                "Crane": ("done", "done", "done", "done", "done", "done", "due"),
                "Winch": ("done", "done", "done", "stale", "stale", "stale", "due"),
            },
        )
        words = {name: row.standings[5].word for name, row in self.rows.items()}
        self.assertEqual((words["Terrace"], words["Cartway"]), ("disagrees", "marks_old"))

    def test_four_tapes_are_proven_each_to_another_end(self) -> None:
        told = {name: self.rows[name].prove for name in ("Incline", "Hoist", "Crane", "Winch")}
        verdicts = {name: state.verdict.kind for name, state in told.items() if state.verdict}
        self.assertEqual(
            verdicts,
            {
                "Incline": VerdictKind.TRUE,
                "Hoist": VerdictKind.STRETCHED,
                "Crane": VerdictKind.CANNOT_TELL,
                "Winch": VerdictKind.CANNOT_TELL,
            },
        )
        before = told["Incline"].others[0]
        self.assertEqual(before.verdict.kind, VerdictKind.SHIFTED)
        self.assertEqual(before.days + told["Incline"].current.days, 7)
        self.assertAlmostEqual(before.verdict.shift_alone_mm.value, 2.1, delta=0.4)
        self.assertEqual(triage_of(self.rows["Winch"]).chances[0].key, "pointer")

    def test_the_wicket_bow_is_half_tuned(self) -> None:
        line = self.rows["Wicket"].checklist.line("paper_tear")
        self.assertEqual((line.verdict, line.advice.why), ("fail", "trial"))
        self.assertFalse(self.rows["Wicket"].checklist.gate_open)

    def test_the_gantry_bow_is_mid_sight_in_with_a_wild_shot(self) -> None:
        row = self.rows["Gantry"]
        last = row.range_log.ends[-1]
        self.assertEqual(suspects(last.shots), (5,))
        self.assertFalse(last.shots[5].called_bad)
        self.assertEqual((row.range.usable_to_m(), row.range.current.step.key), (26.0, "each_2"))
        self.assertGreater(len(row.range_log.moves), 2)

    def test_the_best_place_for_the_ledge_reaches_its_farthest_stake(self) -> None:
        row = self.rows["Ledge"]
        stake = plan_all(row.card, row.evaluation.fit.figures, row.setting)
        self.assertTrue(stake.best.far_enough(95.0) and stake.best.near_enough)
        self.assertEqual(len(row.witness), 5)

    def test_the_slip_of_the_pen_is_the_one_found(self) -> None:
        self.assertEqual(self.rows["Terrace"].evaluation.suspect.entry.ranged_m, 47.0)

    def test_the_hidden_figures_are_found_again(self) -> None:
        evaluation = self.rows["Tower"].evaluation
        for name, hidden in (("speed_mps", 78.6), ("eye_to_sight_m", 0.858), ("peep_height_m", 0.1105)):
            known = evaluation.fit.known(name)
            self.assertLess(abs(known.value - hidden), 2.5 * known.sd, name)

    def test_the_same_seed_gives_the_same_figures(self) -> None:
        again = self.file.with_name("again.sqlite3")
        put_database(again)
        other = Database(again)
        self.addCleanup(other.close)
        fill(other)
        for rig_id in (1, 2, 3, 4):
            logs = [[(e.mark_mm, e.up_m) for e in open_rig(d, rig_id).log] for d in (self.database, other)]
            self.assertEqual(logs[0], logs[1])
