import re

from cross_staff.services.rig import open_rig
from tests.web.client import WithClient


class Bench(WithClient):
    def test_an_empty_bench_teaches(self) -> None:
        page = self.client.get("/").text
        self.assertIn("Put the first rig on the bench.", page)

    def test_a_new_rig_opens_its_card(self) -> None:
        answer = self.client.post("/rigs", data={"name": "  Kiln   bow ", "archer": "Aud Farrow"})
        self.assertEqual((answer.status_code, answer.headers["location"]), (303, "/rigs/1/card"))
        page = self.client.get("/").text
        self.assertIn("Kiln bow", page)
        self.assertIn("Weigh the arrow", page)

    def test_a_rig_without_a_name_is_refused_and_keeps_the_archer(self) -> None:
        answer = self.client.post("/rigs", data={"name": "  ", "archer": "Aud Farrow"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("give it a name", answer.text)
        self.assertIn('value="Aud Farrow"', answer.text)

    def test_what_each_rig_needs_next(self) -> None:
        self.add_rig()
        page = self.client.get("/").text
        self.assertIn("Measure how far the rest stands", page)
        self.assertIn("from speed alone", page)

    def test_unknown_rigs_and_pages(self) -> None:
        for path in ("/rigs/99/tape", "/rigs/99/card", "/rigs/99/tape.pdf", "/rigs/x/tape", "/elsewhere"):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 404, path)
            self.assertIn("To the bench", answer.text)
        self.assertEqual(self.client.post("/rigs/99/tape").status_code, 404)


class WhichRigs(WithClient):
    def setUp(self) -> None:
        super().setUp()
        for name, archer, due in (
            ("Alder", "Sela Brandt", "2027-01-05"),
            ("Birch", "Aud Farrow", ""),
            ("Cedar", "Aud Farrow", "2026-12-01"),
        ):
            rig_id = self.add_rig()
            path = f"/rigs/{rig_id}/card"
            self.client.post(path, data=self.form(path) | {"name": name, "archer": archer, "due": due})

    def shown(self, query: str = "") -> list[str]:
        return re.findall(r'<span class="who"><b>(\w+)', self.client.get(f"/{query}").text)

    def test_sorting(self) -> None:
        self.assertEqual(self.shown(), ["Cedar", "Alder", "Birch"])
        self.assertEqual(self.shown("?sort=name"), ["Alder", "Birch", "Cedar"])
        self.assertEqual(self.shown("?sort=archer"), ["Cedar", "Birch", "Alder"])
        self.client.post("/rigs/1/prepare/cam_timing", data={"number": "0"})
        self.client.post("/rigs/1/events", data={"did_strings": "1"})
        self.assertEqual(self.shown("?sort=state")[0], "Alder")
        self.assertEqual(self.shown("?sort=nonsense")[0], "Cedar")

    def test_filtering(self) -> None:
        self.assertEqual(self.shown("?archer=Aud+Farrow"), ["Cedar", "Birch"])
        self.assertEqual(self.shown("?state=due"), ["Cedar", "Alder", "Birch"])
        self.assertEqual(self.shown("?state=done"), [])
        self.assertIn("No rig answers to this.", self.client.get("/?state=done").text)

    def test_archiving_hides_and_restoring_brings_back(self) -> None:
        answer = self.client.post("/rigs/2/archive")
        self.assertEqual(self.shown(), ["Cedar", "Alder"])
        self.assertIn("Birch is off the bench.", self.client.get(answer.headers["location"]).text)
        self.assertEqual(self.shown("?show=archived"), ["Birch"])
        self.assertEqual(self.client.get("/rigs/2/tape").status_code, 200)
        self.client.post("/rigs/2/restore")
        self.assertEqual(len(self.shown()), 3)
        self.assertEqual(self.client.post("/rigs/77/archive").status_code, 404)

    def test_a_copy_has_the_card_and_nothing_that_was_measured(self) -> None:
        self.client.post("/rigs/1/prepare/d_loop", data={"choice": "good"})
        answer = self.client.post("/rigs/1/copy")
        copied, old = open_rig(self.database, 4), open_rig(self.database, 1)
        self.assertEqual(answer.headers["location"], "/rigs/4/card")
        self.assertEqual(copied.card.name, "Alder, copy")
        self.assertEqual(copied.card.build.components, old.card.build.components)
        self.assertEqual((copied.card.build.sessions, copied.log_of("prepare"), copied.card.due), ((), (), None))
        self.assertEqual(self.client.post("/rigs/77/copy").status_code, 404)
