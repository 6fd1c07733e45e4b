import html
import json
import math
import re
from http import HTTPStatus
from pathlib import Path

from cross_staff.web.api.examples import EXAMPLES
from cross_staff.web.api.reference import PREFIX, Part, calculators
from tests.web.client import WithClient

RIG_A = {"speed_mps": 81.0, "drag_per_m": 0.00142, "eye_to_sight_m": 0.82, "peep_height_m": 0.104}
FIT = {
    "speed_mps": {"value": 80.2, "sd": 0.6},
    "drag_per_m": {"value": 0.0015, "sd_ln": 0.25},
    "eye_to_sight_m": {"value": 0.82, "sd": 0.005},
    "peep_height_m": {"value": 0.104, "sd": 0.005},
    "reference_distance_m": 18,
    "marks": [
        {"distance_m": d, "mark_mm": m, "sd_mm": s}
        for d, m, s in ((18, 0.1, 0.15), (35, 8.6, 0.20), (55, 21.7, 0.25), (70, 31.2, 0.35))
    ],
    "groups": [],
    "distances_m": [18, 90],
}
BUILD = {
    "shaft_length_m": 0.7,
    "shaft_g_per_m": 16.0,
    "components": [{"name": "Point", "mass_g": 11.2, "centre_from_throat_m": 0.7}],
}


class Calculators(WithClient):
    def post(self, path: str, body: object) -> tuple[int, dict]:
        answer = self.client.post(f"/api/v1{path}", json=body)
        self.assertNotRegex(answer.text, "NaN|Infinity")
        return answer.status_code, answer.json()

    def marks(self, **changes: object) -> tuple[int, dict]:
        body = {"rig": RIG_A, "reference_distance_m": 20, "distances_m": [7, 20, 50]}
        return self.post("/flight/marks", body | changes)

    def test_marks_in_the_order_asked(self) -> None:
        status, said = self.marks(distances_m=[50, 7, 50])
        self.assertEqual(status, 200)
        self.assertAlmostEqual(said["turnover_distance_m"], 10.887, delta=1e-3)
        self.assertEqual([row["distance_m"] for row in said["marks"]], [50, 7, 50])
        self.assertAlmostEqual(said["marks"][0]["mark_mm"], 17.2548, delta=2e-4)
        self.assertEqual(said["marks"][0]["equivalent_distance_m"], 50)

    def test_equivalents_inside_the_turnover_and_above_it(self) -> None:
        near = self.marks(distances_m=[7])[1]["marks"][0]
        self.assertGreater(near["equivalent_distance_m"], 10.9)
        steep = self.marks(distances_m=[12], pitch_deg=35)[1]["marks"][0]
        self.assertIsNone(steep["equivalent_distance_m"])
        self.assertIsNotNone(steep["mark_mm"])
        self.assertIn("turnover", steep["problem"])

    def test_out_of_reach_is_a_row_and_not_an_error(self) -> None:
        slow = RIG_A | {"speed_mps": 25, "drag_per_m": 0.01}
        status, said = self.marks(rig=slow, distances_m=[20, 300])
        self.assertEqual(status, 200)
        self.assertIsNone(said["marks"][1]["mark_mm"])
        self.assertIn("out of reach", said["marks"][1]["problem"])
        self.assertEqual(self.marks(rig=slow, reference_distance_m=300)[0], 422)

    def test_no_drag_works(self) -> None:
        self.assertEqual(self.marks(rig=RIG_A | {"drag_per_m": 0})[0], 200)

    def test_the_fit_gives_the_reference_posterior(self) -> None:
        status, said = self.post("/tape/fit", FIT | {"farthest_distance_m": 95, "candidate_distances_m": [30, 60, 90]})
        self.assertEqual(status, 200)
        self.assertAlmostEqual(said["speed_mps"]["value"], 80.540, delta=2e-3)
        self.assertAlmostEqual(math.log(said["drag_per_m"]["value"]), -6.6499, delta=2e-4)
        self.assertAlmostEqual(said["tape"][1]["mark_mm"], 45.6390, delta=2e-4)
        self.assertAlmostEqual(said["tape"][1]["sd_on_target_m"], 0.0531, delta=1e-4)
        self.assertEqual(said["next_shot"]["distance_m"], 90)
        self.assertEqual((said["chi2"]["dof"], len(said["observations"])), (3, 4))
        self.assertEqual(set(said["pulls"]), {"speed_mps", "drag_per_m", "eye_to_sight_m", "peep_height_m"})

    def test_the_fit_takes_groups_an_unknown_ratio_and_nothing(self) -> None:
        group = {"distance_m": 90, "mark_mm": 44.0, "up_m": -0.15, "up_se_m": 0.04, "reading_sd_mm": 0.2}
        status, said = self.post("/tape/fit", FIT | {"groups": [group], "tape_ratio": {"value": 1, "sd": None}})
        self.assertEqual(status, 200)
        self.assertEqual(said["observations"][-1]["kind"], "group")
        self.assertIn("tape_ratio", said["pulls"])
        status, alone = self.post("/tape/fit", FIT | {"marks": [], "distances_m": []})
        self.assertEqual((status, alone["next_shot"], alone["chi2"]["p"]), (200, None, None))

    def test_the_fit_tells_days_apart(self) -> None:
        groups = [
            {"session": s, "distance_m": d, "mark_mm": m, "up_m": up, "up_se_m": se, "reading_sd_mm": 0.15}
            for s, d, m, up, se in (
                ("a", 35, 8.9, 0.021, 0.012), ("a", 55, 22.2, 0.06, 0.02), ("b", 55, 21.4, -0.05, 0.02),
            )
        ]  # fmt: skip
        status, said = self.post("/tape/fit", FIT | {"groups": groups, "day_spread_mrad": 0.5})
        self.assertEqual((status, [each["session"] for each in said["sessions"]]), (200, ["a", "b"]))
        self.assertAlmostEqual(said["sessions"][0]["offset_mrad"]["value"], 0.277, delta=0.003)
        self.assertAlmostEqual(said["tape"][1]["sd_mm"], 0.4592, delta=5e-4)
        status, alike = self.post("/tape/fit", FIT | {"groups": groups})
        self.assertEqual(alike["sessions"][1]["offset_mrad"], {"value": 0.0, "sd": 0.0})
        self.assertAlmostEqual(alike["tape"][1]["mark_mm"], 45.8845, delta=1e-3)
        self.assertLess(said["next_shot"]["sd_at_farthest_m_then"], said["next_shot"]["sd_at_farthest_m_now"])
        for wrong in ({"day_spread_mrad": -0.1}, {"groups": [groups[0] | {"session": ""}]}):
            self.assertEqual(self.post("/tape/fit", FIT | wrong)[0], 422)

    def test_the_build(self) -> None:
        status, said = self.post("/arrow/build", BUILD)
        self.assertEqual(status, 200)
        for name, value in (("mass_g", 22.4), ("balance_from_throat_m", 0.525), ("foc_percent", 25.0)):
            self.assertAlmostEqual(said[name], value, places=9)

    def test_how_far_it_goes_and_what_binds(self) -> None:
        body = {"rig": RIG_A, "reference_distance_m": 20, "slider_travel_mm": 45, "housing_below_pin_mm": 30,
                "arrow_clearance_mm": 20, "tape_length_mm": 40}  # fmt: skip
        status, said = self.post("/reach", body)
        self.assertEqual((status, said["binding"]), (200, "clearance"))
        for name, distance in (("slider_travel", 90.278), ("tape_length", 83.362), ("clearance", 80.419)):
            self.assertAlmostEqual(said["limits"][name], distance, delta=0.002)
        _, said = self.post("/reach", body | {"tape_length_mm": None, "slider_travel_mm": 900})
        self.assertEqual((set(said["limits"]), said["limits"]["slider_travel"]), ({"slider_travel", "clearance"}, None))
        _, said = self.post("/reach", body | {"housing_below_pin_mm": 90})
        self.assertEqual(said["farthest_m"], 0.0)
        self.assertIn("turnover", said["problem"])
        for wrong in ({"slider_travel_mm": -1}, {"tape_ratio": 0}, {"reference_distance_m": 500}):
            status, said = self.post("/reach", body | wrong)
            self.assertEqual((status, said["errors"][0]["field"]), (422, next(iter(wrong))))

    def test_the_axes_from_their_readings(self) -> None:
        exact = ((-40, -2.28133, -0.38302), (0, -1.29970, -0.50000), (40, 0.28965, -0.38302))
        rows = [{"pitch_deg": p, "sight_deg": s, "reference_deg": r, "sd_deg": 0.1} for p, s, r in exact]
        status, said = self.post("/axes/solve", {"pitch_readings": rows})
        self.assertEqual((status, said["undetermined"], said["first_axis_deg"]), (200, ["first_axis"], None))
        self.assertAlmostEqual(said["second_axis_deg"]["value"], 0.8, delta=0.003)
        self.assertAlmostEqual(said["third_axis_deg"]["sd"], 0.110, delta=0.003)
        rail = [{"pitch_deg": 0, "rail_deg": -1.0, "reference_deg": -0.5, "sd_deg": 0.1}]
        yaw = {"value": 0.0, "sd": 0.5}
        _, said = self.post("/axes/solve", {"pitch_readings": rows, "rail_readings": rail, "reference_yaw_deg": yaw})
        self.assertAlmostEqual(said["first_axis_deg"]["value"], 0.5, delta=0.01)
        self.assertAlmostEqual(said["third_axis_deg"]["sd"], 0.512, delta=0.005)
        flipped = [*rows, rows[0] | {"sight_deg": 2.28133}, rows[2]]
        _, said = self.post("/axes/solve", {"pitch_readings": flipped})
        self.assertEqual((said["suspect_readings"], said["slips"][0]["slip"]), ([3], "sight_sign"))
        _, empty = self.post("/axes/solve", {})
        self.assertEqual(len(empty["undetermined"]), 3)
        for wrong, field in ((89, "pitch_deg"), ("up", "pitch_deg")):
            status, said = self.post("/axes/solve", {"pitch_readings": [rows[0] | {"pitch_deg": wrong}]})
            self.assertEqual(status, 422)
            self.assertIn(field, said["errors"][0]["field"])

    def test_what_the_axes_cost(self) -> None:
        cases = [{"distance_m": 50, "pitch_deg": 30}, {"distance_m": 400, "pitch_deg": 60}]
        body = {"rig": RIG_A, "second_axis_deg": 0, "third_axis_deg": 2, "cases": cases}
        _, said = self.post("/axes/cost", body)
        near, far = said["cases"]
        self.assertAlmostEqual(near["false_cant_deg"], 1.22679, places=4)
        self.assertAlmostEqual(near["right_m"], 0.03791, delta=2e-5)
        self.assertIsNone(far["right_m"])
        self.assertIn("out of reach", far["problem"])

    def test_bad_input_is_a_problem_that_names_its_field(self) -> None:
        cases = (
            (
                "/flight/marks",
                {"rig": RIG_A | {"speed_mps": 5}, "reference_distance_m": 20, "distances_m": [20]},
                "rig.speed_mps",
            ),
            (
                "/flight/marks",
                {"rig": RIG_A | {"drag_per_m": 0.5}, "reference_distance_m": 20, "distances_m": [20]},
                "rig.drag_per_m",
            ),
            ("/flight/marks", {"rig": RIG_A, "reference_distance_m": 20, "distances_m": [401]}, "distances_m.0"),
            ("/flight/marks", {"rig": RIG_A, "reference_distance_m": 20, "distances_m": [20] * 501}, "distances_m"),
            (
                "/flight/marks",
                {"rig": RIG_A, "reference_distance_m": 20, "distances_m": [20], "pitch_deg": 81},
                "pitch_deg",
            ),
            ("/flight/marks", {"rig": RIG_A, "reference_distance_m": "20", "distances_m": []}, "reference_distance_m"),
            ("/flight/marks", {"reference_distance_m": 20, "distances_m": []}, "rig"),
            ("/tape/fit", FIT | {"speed_mps": {"value": 80, "sd": 0}}, "speed_mps.sd"),
            ("/tape/fit", FIT | {"marks": [{"distance_m": 18, "mark_mm": 0, "sd_mm": -1}]}, "marks.0.sd_mm"),
            ("/arrow/build", BUILD | {"shaft_g_per_m": 0, "components": []}, "components"),
            ("/arrow/build", BUILD | {"shaft_length_m": 0}, "shaft_length_m"),
        )
        for path, body, field in cases:
            with self.subTest(path=path, field=field):
                status, said = self.post(path, body)
                self.assertEqual(status, 422)
                self.assertEqual(said["errors"][0]["field"], field)
                self.assertEqual(
                    (said["status"], said["title"], said["type"]), (422, HTTPStatus(422).phrase, "about:blank")
                )

    def test_infinities_never_come_in(self) -> None:
        text = json.dumps(
            {"rig": RIG_A | {"speed_mps": math.nan}, "reference_distance_m": 20, "distances_m": [math.inf]}
        )
        answer = self.client.post("/api/v1/flight/marks", content=text, headers={"Content-Type": "application/json"})
        self.assertEqual((answer.status_code, answer.headers["content-type"]), (422, "application/problem+json"))

    def test_values_that_cannot_be_solved_together_are_a_problem(self) -> None:
        mad = FIT | {
            "marks": [
                {"distance_m": 18, "mark_mm": 1e308, "sd_mm": 1e-300},
                {"distance_m": 30, "mark_mm": -1e308, "sd_mm": 1e-300},
            ]
        }  # noqa: E501
        self.assertEqual(self.post("/tape/fit", mad)[0], 422)

    def test_uncertainties_beyond_all_numbers_are_a_problem(self) -> None:
        for changes in (
            {
                "speed_mps": {"value": 80, "sd": 1e300},
                "drag_per_m": {"value": 0.0015, "sd_ln": 1e300},
                "marks": FIT["marks"][:2],
            },
            {"marks": [{"distance_m": 400, "mark_mm": 1e269, "sd_mm": 1.2e308}], "reference_distance_m": 300},
        ):
            self.assertEqual(self.post("/tape/fit", FIT | changes)[0], 422)

    def test_unreadable_bodies_and_unknown_paths_are_problems_too(self) -> None:
        for path, status in (("/arrow/build", 422), ("/nothing/here", 404)):
            answer = self.client.post(f"/api/v1{path}", content=b"{", headers={"Content-Type": "application/json"})
            self.assertEqual((answer.status_code, answer.headers["content-type"]), (status, "application/problem+json"))
        self.assertEqual(self.client.get("/api/v1/arrow/build").status_code, 405)


def _leaves(body: object, name: str = "") -> set[str]:
    """The figures of a body by their places, as the page names them."""
    if isinstance(body, dict):
        return {leaf for key, part in body.items() for leaf in _leaves(part, f"{name}.{key}".lstrip("."))}
    if isinstance(body, list):
        return {leaf for part in body for leaf in _leaves(part, f"{name}[]")}
    return {name}


class Documentation(WithClient):
    def test_every_calculator_stands_on_the_page_with_an_example_that_is_answered(self) -> None:
        schema, page = self.client.get("/openapi.json").json(), self.client.get("/docs").text
        told = calculators(schema)
        self.assertEqual({PREFIX + path for path in EXAMPLES}, {each.path for each in told})
        for each in told:
            with self.subTest(each.path):
                example = json.loads(each.example)
                answer = self.client.post(each.path, json=example)
                self.assertEqual(answer.status_code, 200, answer.text)
                self.assertIn(html.escape(json.dumps(example, indent=1), quote=False).split(" ")[0], page)
                self.assertIn(f'id="{each.key}"', page)
                self.assertTrue(each.says.endswith("."), each.says)
                self.assertLessEqual(_leaves(example), {part.name for part in each.takes})
                self.assertEqual({re.split(r"[\[{.]", part.name)[0] for part in each.gives}, set(answer.json()))
                self.assertEqual({p.name for p in each.takes if p.needed} - _leaves(example), set())

    def test_a_figure_says_its_kind_and_its_bounds(self) -> None:
        takes = {each.path: each.takes for each in calculators(self.client.get("/openapi.json").json())}
        named = {part.name: part for part in takes[f"{PREFIX}/groups/analyse"]}
        self.assertEqual(
            named["known_spread_arrows"], Part("known_spread_arrows", "whole number", "2 to 100000", False)
        )
        self.assertEqual(named["shots[].called_bad"].kind, "true or false")
        self.assertEqual(named["ready_radius_m"].within, "above 0, to 5")

    def test_the_schema_declares_problems_and_only_calculators(self) -> None:
        schema = self.client.get("/openapi.json").json()
        paths = (
            "/arrow/build", "/axes/cost", "/axes/solve", "/booklet/match", "/cut-chart", "/drift/diagnose",
            "/flight/marks", "/groups/analyse", "/pins/stack", "/proof/verdict", "/reach", "/tape/fit",
        )  # fmt: skip
        self.assertEqual(sorted(schema["paths"]), [f"/api/v1{path}" for path in paths])
        for path in schema["paths"].values():
            self.assertIn("application/problem+json", path["post"]["responses"]["422"]["content"])
        self.assertIn("Problem", schema["components"]["schemas"])

    def test_licences_ship_with_what_is_vendored(self) -> None:
        static = Path("cross_staff/web/static")
        for name in (
            "vendor/LICENSE.htmx",
            "vendor/LICENSE.bulma",
            "fonts/LICENSE.barlow",
        ):
            self.assertTrue((static / name).read_text().strip(), name)


SHOTS = ((0.021, 0.034), (0.008, 0.051), (0.030, 0.022), (-0.004, 0.040), (0.015, 0.061))


class Groups(WithClient):
    """PHYSICS' group: 30 m, L 0.80."""

    BODY = {
        "distance_m": 30.0,
        "eye_to_sight_m": 0.80,
        "shots": [
            {"right_m": x / 1000, "up_m": y / 1000} for x, y in ((21, 34), (8, 51), (30, 22), (-4, 40), (15, 61))
        ],
        "ready_radius_m": 0.02,
    }

    def analyse(self, **changes: object) -> tuple[int, dict]:
        answer = self.client.post("/api/v1/groups/analyse", json=self.BODY | changes)
        self.assertNotRegex(answer.text, "NaN|Infinity")
        return answer.status_code, answer.json()

    def test_reference(self) -> None:
        status, said = self.analyse()
        self.assertEqual(status, 200)
        self.assertEqual((said["count"], said["verdict"], said["shots_to_settle"]), (5, "adjust", 0))
        self.assertEqual(said["beyond_chance"], {"right": False, "up": True})
        for place, value in ((("mean", "right_m"), 0.014), (("mean", "up_m"), 0.0416), (("se", "up_m"), 0.006742),
                             (("move_sight_mm", "right"), 0.3636), (("move_sight_mm", "up"), 1.0805)):  # fmt: skip
            self.assertAlmostEqual(said[place[0]][place[1]], value, 4)
        self.assertAlmostEqual(said["p_value"], 0.0112, 4)
        self.assertAlmostEqual(said["mean_radius_m"], 0.01686, 5)

    def test_called_bad_and_few(self) -> None:
        bad = [{"right_m": 0.01, "up_m": 0.0}, *({"right_m": 0.5, "up_m": 0.5, "called_bad": True} for _ in range(2))]
        status, said = self.analyse(shots=bad)
        self.assertEqual((status, said["count"], said["verdict"], said["p_value"]), (200, 1, "not_yet_known", None))
        self.assertIsNone(said["se"])
        self.assertEqual(self.analyse(shots=bad, known_spread_mrad=0.1)[1]["verdict"], "adjust")
        self.assertEqual(self.analyse(shots=[])[1]["mean"], None)

    def test_suspects_are_those_of_the_request(self) -> None:
        shots = [{"right_m": 0.9, "up_m": 0.0, "called_bad": True}, *self.BODY["shots"], {"right_m": 0.6, "up_m": 0.6}]
        self.assertEqual(self.analyse(shots=shots)[1]["suspects"], [6])

    def test_a_spread_that_rests_on_few_arrows_points_at_less(self) -> None:
        shots = [*self.BODY["shots"], {"right_m": 0.09, "up_m": 0.04}]
        told = [
            self.analyse(shots=shots, known_spread_mrad=0.6, known_spread_arrows=n)[1]["suspects"] for n in (3000, 2)
        ]
        self.assertEqual(told, [[5], []])
        self.assertEqual(self.analyse(known_spread_arrows=0)[0], 422)

    def test_five_hundred_and_no_more(self) -> None:
        self.assertEqual(self.analyse(shots=[{"right_m": 0.0, "up_m": 0.0}] * 500)[0], 200)
        self.assertEqual(self.analyse(shots=[{"right_m": 0.0, "up_m": 0.0}] * 501)[0], 422)

    def test_bad_input_names_its_field(self) -> None:
        wrong = {"distance_m": 0.1, "eye_to_sight_m": 2, "ready_radius_m": 0, "known_spread_mrad": -1}
        for field, value in [*wrong.items(), ("shots.0.right_m", [{"right_m": "x", "up_m": 0}])]:
            status, said = self.analyse(**{field.split(".")[0]: value})
            self.assertEqual(status, 422)
            self.assertIn(field, [error["field"] for error in said["errors"]])


class Tape(Calculators):
    PINS = [{"name": name, "distance_m": d} for name, d in (("near", 20), ("middle", 35), ("far", 50))]

    def stack(self, **changes: object) -> tuple[int, dict]:
        body = {"rig": RIG_A, "reference_distance_m": 20, "pins": self.PINS, "dialled_pin": "far", "dial_to_m": 70}
        return self.post("/pins/stack", body | changes)

    def test_the_stack_and_what_it_is_worth(self) -> None:
        status, said = self.stack()
        self.assertEqual(status, 200)
        self.assertEqual([round(p["below_reference_mm"], 3) for p in said["pins"]], [0.0, 7.968, 17.255])
        self.assertEqual([round(p["distance_now_m"], 2) for p in said["pins"]], [43.85, 56.24, 70.0])
        self.assertEqual([p["gap_to_next_mm"] is None for p in said["pins"]], [False, False, True])
        up = self.stack(dial_to_m=30)[1]["pins"]
        self.assertEqual([p["distance_now_m"] for p in up], [None, None, 30.0])
        self.assertIn("above the turnover", up[0]["problem"])

    def test_a_stack_that_cannot_be(self) -> None:
        for changes, field in (
            ({"dialled_pin": "none"}, "dialled_pin"),
            ({"pins": [*self.PINS, self.PINS[0]]}, "pins"),
            ({"dial_to_m": 450}, "dial_to_m"),
            ({"reference_distance_m": 0.1}, "reference_distance_m"),
            ({"pins": []}, "pins"),
        ):
            status, said = self.stack(**changes)
            self.assertEqual(status, 422, changes)
            self.assertIn(field, said["errors"][0]["field"])

    def test_the_cut_chart(self) -> None:
        body = {"rig": RIG_A, "distances_m": [12, 60], "pitches_deg": [0, -20, 35]}
        status, said = self.post("/cut-chart", body)
        self.assertEqual((status, len(said["rows"])), (200, 6))
        rows = {(row["distance_m"], row["pitch_deg"]): row for row in said["rows"]}
        self.assertEqual(rows[60, 0]["equivalent_distance_m"], 60.0)
        self.assertAlmostEqual(rows[60, -20]["equivalent_distance_m"], 55.6158, delta=2e-4)
        self.assertIsNone(rows[12, 35]["equivalent_distance_m"])
        self.assertIn("turnover", rows[12, 35]["problem"])
        self.assertEqual(self.post("/cut-chart", body | {"pitches_deg": [90]})[0], 422)
        self.assertEqual(self.post("/cut-chart", body | {"distances_m": [20] * 400})[0], 422)
        self.assertEqual(self.post("/cut-chart", body | {"pitches_deg": []}), (200, {"rows": []}))

    def test_the_booklet(self) -> None:
        strips = [{"label": "A", "order": 1, "span_mm": 48.0}, {"label": "E", "order": 5, "span_mm": 56.0}]
        body = {"rig": RIG_A, "from_m": 20, "to_m": 100, "strips": strips, "farthest_m": 100}
        status, said = self.post("/booklet/match", body)
        self.assertEqual(status, 200)
        self.assertAlmostEqual(said["span_mm"], 52.1884, delta=2e-4)
        self.assertAlmostEqual(said["exact_order"], 1 + 4 * 4.1884 / 8.0, delta=2e-4)
        self.assertEqual([c["label"] for c in said["choices"]], ["3", "4", "2", "E", "A"])
        longer = next(c for c in said["choices"] if c["label"] == "E")
        self.assertGreater(longer["error_at_farthest_m"], 0.3)  # a strip too long lowers the sight: the arrow is high
        for changes, field in (
            ({"strips": strips[:1]}, "strips"),
            ({"strips": [*strips, {"label": "C", "order": 3, "span_mm": 70.0}]}, "strips"),
            ({"to_m": 15}, "to_m"),
            ({"to_m": 450}, "to_m"),
            ({"tape_ratio": 0}, "tape_ratio"),
        ):
            status, refused = self.post("/booklet/match", body | changes)
            self.assertEqual(status, 422, changes)
            self.assertIn(field, refused["errors"][0]["field"])
