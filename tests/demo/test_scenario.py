from cross_staff.demo.scenario import fill
from cross_staff.services import bench
from cross_staff.services.rig import open_rig
from tests.data import WithDatabase


class Scenario(WithDatabase):
    @property
    def rows(self) -> dict[str, bench.BenchRow]:
        return {row.card.name.split(" ")[0]: row for row in bench.rows(self.database)}

    def setUp(self) -> None:
        super().setUp()
        fill(self.database)

    def test_rigs_in_different_states(self) -> None:
        states = {name: row.standings[1].word for name, row in self.rows.items()}
        self.assertEqual(
            states,
            {
                "Ledge": "good_to",
                "Terrace": "disagrees",
                "Tower": "good_to",
                "Cartway": "marks_old",
                "Kiln": "waits_for_card",
            },
        )
        self.assertEqual(self.rows["Ledge"].standings[1].state, "due")
        self.assertEqual(self.rows["Tower"].standings[1].state, "done")

    def test_the_slip_of_the_pen_is_the_one_found(self) -> None:
        self.assertEqual(self.rows["Terrace"].reckoning.suspect.entry.ranged_m, 47.0)

    def test_the_hidden_figures_are_found_again(self) -> None:
        reckoning = self.rows["Tower"].reckoning
        for name, hidden in (("speed_mps", 78.6), ("eye_to_sight_m", 0.858), ("peep_height_m", 0.1105)):
            known = reckoning.fit.known(name)
            self.assertLess(abs(known.value - hidden), 2.5 * known.sd, name)

    def test_the_same_seed_gives_the_same_figures(self) -> None:
        other = Scenario("test_rigs_in_different_states")
        other.setUp()
        self.addCleanup(other.doCleanups)
        for rig_id in (1, 2, 3, 4):
            logs = [[(e.mark_mm, e.up_m) for e in open_rig(d, rig_id).log] for d in (self.database, other.database)]
            self.assertEqual(logs[0], logs[1])
