from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any

from cross_staff.core.carry.faults import (
    MOST_FAULTS,
    MOST_LETTERS,
    instrument_faults,
    rig_faults,
    sight_faults,
)
from cross_staff.core.carry.records import CarriedSight, SightRecord
from cross_staff.core.rig.instrument import Instrument
from tests.carried import UID, carried_instrument, minutes, whole_rig
from tests.rigs import NOON, TEMPLATES


class RigFaults(unittest.TestCase):
    def setUp(self) -> None:
        self.rig = whole_rig()

    def changed(self, log: str, place: int, **changes: Any) -> list[str]:
        """What is said of the rig with one record of a log changed."""
        records = list(getattr(self.rig, log))
        records[place - 1] = replace(records[place - 1], **changes)
        return [str(fault) for fault in rig_faults(replace(self.rig, **{log: tuple(records)}))]

    def test_a_sound_rig_has_none(self) -> None:
        self.assertEqual(rig_faults(self.rig), ())

    def test_every_station_refuses_what_its_form_would(self) -> None:
        for log, place, changes, said in (
            ("observations", 1, {"ranged_m": 0.2}, "observations 1, distance: must lie between 2 and 200 m"),
            ("observations", 1, {"pin": 7}, "observations 1, pin"),
            ("observations", 3, {"reason": "gust"}, "observations 3, reason: write why"),
            ("range_ends", 1, {"dial_mm": 900.0}, "range_ends 1, dial"),
            ("range_ends", 2, {"line_arrows": 0}, "range_ends 2, line_arrows"),
            ("range_shots", 2, {"up_m": 40.0}, "range_shots 2, shots"),
            ("range_moves", 1, {"amount": 0.0}, "range_moves 1, amount: say how far"),
            ("range_sessions", 1, {"counts": "thrice"}, "range_sessions 1, counts"),
            ("level_readings", 1, {"pitch_rad": 1.0}, "level_readings 1, pitch: read this axis with the bow level"),
            (
                "level_readings",
                1,
                {"method": "by_nose"},
                "level_readings 1, method: is no way of reading the second axis",
            ),
            ("level_readings", 1, {"method": "hand_plumb"}, "level_readings 1, method"),
            ("level_readings", 1, {"axis": "fourth"}, "level_readings 1, axis"),
            ("witness_marks", 1, {"joint": ""}, "witness_marks 1, joint: which joint?"),
            ("bench_entries", 1, {"choice": "perhaps"}, "bench_entries 1, state"),
            ("bench_entries", 1, {"key": "step_of_nobody"}, "bench_entries 1: this sight has no such step"),
            ("bench_entries", 1, {"station": "lathe"}, "bench_entries 1, station: “lathe” is not known"),
            ("proof_lines", 1, {"arrows": 99}, "proof_lines 1, arrows"),
            ("proof_lines", 1, {"day": minutes(9000).date()}, "proof_lines 1, day"),
            ("photos", 1, {"sha256": "abc"}, "photos 1, sha256"),
            ("taken_readings", 1, {"figure": "wind"}, "taken_readings 1, figure"),
            ("taken_readings", 2, {"value_si": 1e7}, "taken_readings 2, value_si"),
            ("taken_readings", 2, {"resolution_si": 0.0}, "taken_readings 2, resolution_si"),
            ("taken_readings", 2, {"sequence": -1}, "taken_readings 2, sequence"),
            ("taken_readings", 2, {"text": "x" * 401}, "taken_readings 2, text"),
            ("taken_readings", 2, {"instrument": " "}, "taken_readings 2, instrument"),
            ("photos", 1, {"width": 0}, "photos 1, width"),
        ):
            with self.subTest(said):
                self.assertIn(said, " | ".join(self.changed(log, place, **changes)))

    def test_what_points_into_nothing_is_said_with_its_place(self) -> None:
        for log, place, changes, said in (
            ("observations", 2, {"revision": 4}, "observations 2, revision: there is no revision 4"),
            ("revisions", 3, {"undoes": (3, 9)}, "revisions 3, undoes"),
            ("revisions", 3, {"taken_up": (("windage", 4),)}, "revisions 3, taken_up"),
            ("revisions", 3, {"taken_up": (("luck", 1),)}, "revisions 3, taken_up: “luck” is not known"),
            ("revisions", 2, {"happened": ("sneezed",)}, "revisions 2, happened: “sneezed”"),
            ("revisions", 2, {"meant": (("knock", "guess"),)}, "revisions 2, meant"),
            ("revisions", 2, {"number": 5}, "revisions 2, number: is 5"),
            ("level_readings", 2, {"undoes": 2}, "level_readings 2, undoes"),
            ("witness_marks", 1, {"photo": 3}, "witness_marks 1, photo: there is no photo 3"),
            ("range_shots", 1, {"end_key": "e9"}, "range_shots 1: there is no end “e9”"),
            ("range_ends", 1, {"session": 4}, "range_ends 1, session"),
            ("proof_lines", 1, {"laying": 5}, "proof_lines 1, laying"),
            ("bench_entries", 2, {"points": ((1.0, 4.0),)}, "bench_entries 2, points"),
            ("printed_tapes", 1, {"number": 0}, "printed_tapes 1, number"),
        ):
            with self.subTest(said):
                self.assertIn(said, " | ".join(self.changed(log, place, **changes)))

    def test_a_card_is_held_to_its_rules_and_its_lists(self) -> None:
        card = self.rig.card
        for wrong, said in (
            (replace(card, eye_to_sight_m=4.0), "revisions 3, eye_to_sight_m: must lie between"),
            (replace(card, builds=()), "revisions 3, card.in_use"),
            (replace(card, in_use=3), "revisions 3, card.in_use"),
            (
                replace(card, level=replace(card.level, from_shop=(("reference", 2),))),
                "instrument 2 is not in the file",
            ),
            (replace(card, goals=replace(card.goals, farthest_m=3.0)), "revisions 3, goals.farthest_m"),
        ):
            with self.subTest(said):
                self.assertIn(said, " | ".join(self.changed("revisions", 3, card=wrong)))

    def test_what_stood_on_a_card_before_stays_no_fault(self) -> None:
        wrong = replace(self.rig.card, goals=replace(self.rig.card.goals, farthest_m=3.0))
        revisions = (*self.rig.revisions, replace(self.rig.revisions[2], number=4, card=wrong, undoes=(), taken_up=()))
        later = replace(revisions[3], number=5, card=replace(wrong, archer="Sela"))
        faults = [str(f) for f in rig_faults(replace(self.rig, revisions=(*revisions, later)))]
        self.assertEqual(len([f for f in faults if "farthest_m" in f]), 1, faults)
        self.assertIn("revisions 4", faults[0])

    def test_words_that_nothing_here_wrote_are_refused(self) -> None:
        for text, said in (
            ("x" * (MOST_LETTERS + 1), "longer"),
            ("a\x00b", "cannot be printed"),
            ("\ud800", "cannot be"),
        ):
            with self.subTest(said):
                self.assertIn(said, " ".join(self.changed("range_ends", 1, note=text)))
        self.assertIn("no number", " ".join(self.changed("observations", 1, line=2**70)))

    def test_a_time_without_its_zone_is_asked_for(self) -> None:
        bare = NOON.replace(tzinfo=None)
        self.assertIn("observations 1, entered_utc: must say", self.changed("observations", 1, entered_utc=bare)[0])
        self.assertIn("must say", str(rig_faults(replace(self.rig, created_utc=bare))[0]))

    def test_a_rig_without_revisions_or_with_another_identity_is_said(self) -> None:
        self.assertEqual(
            [str(f) for f in rig_faults(replace(self.rig, revisions=()))], ["revisions: a rig has at least one"]
        )
        self.assertIn("uid", str(rig_faults(replace(self.rig, uid="mine"))[0]))

    def test_a_pin_set_to_its_place_moved_by_nothing_that_anybody_counted(self) -> None:
        self.assertEqual(self.changed("range_moves", 1, amount=0.0, placed=True), [])

    def test_a_list_of_faults_ends(self) -> None:
        wrong = replace(self.rig.observations[0], ranged_m=0.1)
        self.assertEqual(len(rig_faults(replace(self.rig, observations=(wrong,) * 500))), MOST_FAULTS)


class OtherFaults(unittest.TestCase):
    def test_instruments(self) -> None:
        sound = carried_instrument(UID, numbers=2)
        self.assertEqual(instrument_faults((sound,)), ())
        nameless = replace(sound.log[1], instrument=Instrument(""))
        faults = instrument_faults((replace(sound, log=(sound.log[0], nameless)),))
        self.assertEqual([f.where for f in faults], ["instruments 1, log 2, name"])
        self.assertIn("twice", str(instrument_faults((sound, sound))[0]))
        self.assertIn("number", str(instrument_faults((replace(sound, log=sound.log[1:]),))[0]))
        self.assertIn("empty", str(instrument_faults((replace(sound, log=()),))[0]))

    def test_sights(self) -> None:
        kept = SightRecord(1, NOON, TEMPLATES["target_scope"])
        self.assertEqual(sight_faults(CarriedSight(UID, (kept,))), ())
        wrong = replace(kept, sight=replace(kept.sight, kind="crystal"))
        self.assertIn("kind", str(sight_faults(CarriedSight(UID, (wrong,)))[0]))


if __name__ == "__main__":
    unittest.main()
