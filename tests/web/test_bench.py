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
        self.assertIn("Shoot 6 arrows at 17", page)
        self.assertIn("from speed alone", page)

    def test_unknown_rigs_and_pages(self) -> None:
        for path in ("/rigs/99/tape", "/rigs/99/card", "/rigs/99/tape.pdf", "/rigs/x/tape", "/elsewhere"):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 404, path)
            self.assertIn("To the bench", answer.text)
        self.assertEqual(self.client.post("/rigs/99/tape").status_code, 404)
