"""A worked example of each calculator: one bow, 81 m/s, sighted in at 20 m; every one is answered as it stands."""

from __future__ import annotations

from typing import Any

_RIG = {"speed_mps": 81.0, "drag_per_m": 0.00142, "eye_to_sight_m": 0.82, "peep_height_m": 0.104}


def _line(day: str, distance_m: float, up_m: float, arrows: int) -> dict[str, Any]:
    return {"distance_m": distance_m, "dialled_m": distance_m, "up_m": up_m, "arrows": arrows, "session": day}


EXAMPLES: dict[str, dict[str, Any]] = {
    "/flight/marks": {"rig": _RIG, "reference_distance_m": 20, "distances_m": [7, 20, 50, 78], "pitch_deg": 0},
    "/tape/fit": {
        "speed_mps": {"value": 80.2, "sd": 0.6},
        "drag_per_m": {"value": 0.0015, "sd_ln": 0.25},
        "eye_to_sight_m": {"value": 0.82, "sd": 0.005},
        "peep_height_m": {"value": 0.104, "sd": 0.005},
        "reference_distance_m": 20,
        "marks": [
            {"distance_m": 20, "mark_mm": 0.1, "sd_mm": 0.15},
            {"distance_m": 47, "mark_mm": 15.4, "sd_mm": 0.25},
        ],
        "groups": [{"distance_m": 61, "mark_mm": 24.6, "up_m": -0.03, "up_se_m": 0.02, "reading_sd_mm": 0.2}],
        "distances_m": [20, 38, 61, 78],
        "farthest_distance_m": 78,
        "candidate_distances_m": [38, 61, 78],
    },
    "/arrow/build": {
        "shaft_length_m": 0.72,
        "shaft_g_per_m": 17,
        "components": [
            {"name": "point", "mass_g": 8, "centre_from_throat_m": 0.724},
            {"name": "nock", "mass_g": 0.6, "centre_from_throat_m": 0.004},
        ],
    },
    "/reach": {
        "rig": _RIG,
        "reference_distance_m": 20,
        "slider_travel_mm": 45,
        "housing_below_pin_mm": 30,
        "arrow_clearance_mm": 20,
        "tape_length_mm": 40,
    },
    "/axes/solve": {
        "pitch_readings": [
            {"pitch_deg": -40, "sight_deg": -2.28, "reference_deg": -0.38, "sd_deg": 0.1},
            {"pitch_deg": 0, "sight_deg": -1.3, "reference_deg": -0.5, "sd_deg": 0.1},
            {"pitch_deg": 40, "sight_deg": 0.29, "reference_deg": -0.38, "sd_deg": 0.1},
        ]
    },
    "/axes/cost": {
        "rig": _RIG,
        "second_axis_deg": 0,
        "third_axis_deg": 2,
        "cases": [{"distance_m": 50, "pitch_deg": 30}],
    },
    "/groups/analyse": {
        "distance_m": 30,
        "eye_to_sight_m": 0.82,
        "shots": [
            {"right_m": 0.021, "up_m": 0.034},
            {"right_m": 0.008, "up_m": 0.051},
            {"right_m": 0.03, "up_m": 0.022},
            {"right_m": 0.31, "up_m": -0.12, "called_bad": True},
        ],
        "ready_radius_m": 0.04,
    },
    "/pins/stack": {
        "rig": _RIG,
        "reference_distance_m": 20,
        "pins": [
            {"name": "top", "distance_m": 20},
            {"name": "middle", "distance_m": 30},
            {"name": "low", "distance_m": 40},
        ],
        "dialled_pin": "low",
        "dial_to_m": 61,
    },
    "/cut-chart": {
        "rig": _RIG,
        "distances_m": [30, 47, 61],
        "pitches_deg": [-25, 0, 25],
    },
    "/booklet/match": {
        "rig": _RIG,
        "from_m": 20,
        "to_m": 80,
        "strips": [{"label": "A", "order": 1, "span_mm": 32}, {"label": "E", "order": 5, "span_mm": 40}],
        "farthest_m": 78,
    },
    "/proof/verdict": {
        "rig": _RIG,
        "reference_distance_m": 20,
        "lines": [_line("monday", 26, 0.01, 4), _line("monday", 61, -0.04, 4), _line("thursday", 78, -0.05, 6)],
        "wanted_m": [26, 38, 61, 78],
        "target_m": 0.3,
        "spread_mrad": 0.9,
        "day_spread_mrad": 0.3,
    },
    "/drift/diagnose": {
        "rig": _RIG,
        "reference_distance_m": 20,
        "groups": [
            {"distance_m": 20, "pitch_deg": 0, "right_m": 0.004, "right_se_m": 0.006},
            {"distance_m": 61, "pitch_deg": 0, "right_m": 0.02, "right_se_m": 0.014},
            {"distance_m": 61, "pitch_deg": 25, "right_m": 0.06, "right_se_m": 0.015},
            {"distance_m": 61, "pitch_deg": -25, "right_m": -0.03, "right_se_m": 0.015},
        ],
    },
}
