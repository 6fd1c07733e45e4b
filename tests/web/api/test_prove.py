import math

from tests.web.client import WithClient

RIG_A = {"speed_mps": 81.0, "drag_per_m": 0.00142, "eye_to_sight_m": 0.82, "peep_height_m": 0.104}
WANTED = [26, 38, 47, 61, 78, 95]


def lines(*rows: tuple[float, float, float, str]) -> list[dict[str, object]]:
    return [
        {"distance_m": distance, "dialled_m": dialled, "up_m": up, "arrows": 4, "session": session}
        for distance, dialled, up, session in rows
    ]


class Proofs(WithClient):
    def verdict(self, **changes: object) -> tuple[int, dict]:
        body = {
            "rig": RIG_A,
            "reference_distance_m": 17,
            "lines": lines(
                (26, 26, -0.02, "a"),
                (61, 61, -0.09, "a"),
                (78, 78, -0.13, "b"),
                (47, 47, -0.05, "b"),
                (78, 80, 0.02, "c"),
            ),
            "wanted_m": WANTED,
            "target_m": 0.25,
            "spread_mrad": 1.0,
            "day_spread_mrad": 0.3,
        }
        answer = self.client.post("/api/v1/proof/verdict", json=body | changes)
        self.assertNotRegex(answer.text, "NaN|Infinity")
        return answer.status_code, answer.json()

    def test_the_reference_comes_out(self) -> None:
        status, said = self.verdict()
        self.assertEqual(status, 200)
        self.assertEqual((said["verdict"], said["off"], said["worst_distance_m"]), ("cannot_tell", False, 95))
        self.assertAlmostEqual(said["shift_mm"]["value"], 0.607, delta=1e-3)
        self.assertAlmostEqual(said["stretch"]["sd"], 0.0137, delta=1e-4)
        self.assertAlmostEqual(said["next"]["sd_then_m"], 0.0370, delta=1e-4)
        self.assertEqual((said["chi2"]["dof"], said["suspect_lines"]), (3, []))
        self.assertEqual([row["distance_m"] for row in said["rows"]], WANTED)

    def test_where_it_can_be_shot_bounds_what_is_next(self) -> None:
        self.assertEqual(self.verdict(shootable_m=[38])[1]["next"]["distance_m"], 38)

    def test_two_lines_have_no_misfit(self) -> None:
        said = self.verdict(lines=lines((26, 26, 0.0, "a"), (61, 61, 0.0, "b")))[1]
        self.assertIsNone(said["chi2"])

    def test_no_line_is_an_answer_and_no_distance_an_error(self) -> None:
        self.assertEqual(self.verdict(lines=[])[1]["verdict"], "cannot_tell")
        self.assertEqual(self.verdict(wanted_m=[])[0], 422)
        self.assertEqual(self.verdict(target_m=0)[0], 422)
        self.assertEqual(self.verdict(lines=lines((26, 26, 99.0, "a")))[0], 422)

    def test_out_of_reach_says_so(self) -> None:
        slow = RIG_A | {"speed_mps": 25, "drag_per_m": 0.01}
        status, said = self.verdict(rig=slow, wanted_m=[300], lines=[])
        self.assertEqual(status, 422)
        self.assertIn("reach", str(said))


class Drifts(WithClient):
    def diagnose(self, groups: list[dict[str, float]], **changes: object) -> tuple[int, dict]:
        body = {"rig": RIG_A, "reference_distance_m": 20, "groups": groups} | changes
        answer = self.client.post("/api/v1/drift/diagnose", json=body)
        self.assertNotRegex(answer.text, "NaN|Infinity")
        return answer.status_code, answer.json()

    def test_windage_comes_back_in_mrad_and_first(self) -> None:
        groups = [
            {"distance_m": d, "pitch_deg": p, "right_m": 0.002 * (d + 0.82), "right_se_m": 2e-4 * d}
            for d in (20, 38, 61, 95)
            for p in (-25, 0, 25)
        ]
        status, said = self.diagnose(groups)
        self.assertEqual(status, 200)
        self.assertAlmostEqual(said["terms"]["windage_mrad"]["value"], 2.0, delta=0.05)
        self.assertEqual(said["verdicts"][0]["cause"], "windage_setting")
        self.assertEqual(said["undetermined"], [])

    def test_level_ground_leaves_the_third_axis_open(self) -> None:
        groups = [{"distance_m": d, "pitch_deg": 0, "right_m": 0.0, "right_se_m": 2e-4 * d} for d in (20, 38, 61, 95)]
        said = self.diagnose(groups)[1]
        self.assertIsNone(said["terms"]["third_axis_deg"])
        self.assertIn("third_axis_deg", said["undetermined"])
        self.assertEqual(said["verdicts"][0]["cause"], "none")
        self.assertFalse(math.isnan(said["chi2"]["value"]))

    def test_nothing_to_go_by_is_an_error(self) -> None:
        self.assertEqual(self.diagnose([])[0], 422)
        wrong = {"distance_m": 20, "pitch_deg": 0, "right_m": 0.0, "right_se_m": 0.0}
        self.assertEqual(self.diagnose([wrong])[0], 422)
