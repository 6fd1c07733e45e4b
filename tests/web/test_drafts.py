import unittest

from tests.data import WithDatabase
from tests.web.client import WithClient, fields


class Drafts(WithClient):
    """What is typed is kept on the server for the device that it is typed on."""

    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.here = f"/rigs/{self.rig_id}"

    def page(self, path: str) -> str:
        answer = self.client.get(f"{self.here}/{path}")
        self.assertEqual(answer.status_code, 200, path)
        return answer.text

    def type(self, form: str, path: str, **typed: str) -> dict[str, str]:
        sent = fields(self.page(path)) | typed
        self.assertEqual(self.client.post(f"{self.here}/draft/{form}", data=sent).status_code, 204)
        return sent

    FORMS = (
        ("card", "card", {"eye_to_sight": "815", "anchor": "knuckle under the jaw"}),
        ("sight", "card/sight", {"sight_name": "three-pin slider", "slider_travel": "70"}),
        ("arrow-0", "card/arrows/0", {"arrow_name": "stiff", "shaft_length": "722"}),
        ("mount", "mount", {"vanes": "12", "torque": "5 Nm"}),
    )

    def test_what_was_typed_is_back_after_another_page_and_goes_when_it_is_saved(self) -> None:
        for form, path, typed in self.FORMS:
            with self.subTest(form):
                self.type(form, path, **typed)
                self.page("tape")
                page = self.page(path)
                self.assertRegex(page, r"<b>Not saved yet:</b> what you typed at \d\d:\d\d is back here")
                shown = fields(page)
                self.assertEqual({name: shown[name] for name in typed}, typed)
                self.assertEqual(self.client.post(f"{self.here}/{path}", data=shown).status_code, 303)
                saved = self.page(path)
                self.assertNotIn("Not saved yet", saved)
                self.assertEqual({name: fields(saved)[name] for name in typed}, typed)

    def test_discarding_shows_what_is_kept(self) -> None:
        for form, path, typed in self.FORMS:
            with self.subTest(form):
                before = fields(self.page(path))
                self.type(form, path, **typed)
                answer = self.client.post(f"{self.here}/draft/{form}/discard")
                self.assertEqual(answer.headers["location"], f"{self.here}/{path}")
                page = self.page(path)
                self.assertNotIn("Not saved yet", page)
                self.assertEqual({n: t for n, t in fields(page).items() if n in typed},
                                 {n: t for n, t in before.items() if n in typed})  # fmt: skip

    def test_a_refused_save_is_kept_too_without_any_script(self) -> None:
        sent = fields(self.page("card")) | {"eye_to_sight": "8", "anchor": "web of the hand"}
        self.assertEqual(self.client.post(f"{self.here}/card", data=sent).status_code, 422)
        self.page("tape")
        shown = fields(self.page("card"))
        self.assertEqual((shown["eye_to_sight"], shown["anchor"]), ("8", "web of the hand"))

    def test_another_device_does_not_see_it(self) -> None:
        self.type("card", "card", anchor="web of the hand")
        self.client.cookies.clear()
        self.assertNotIn("web of the hand", self.page("card"))

    def test_typed_and_typed_back_is_no_draft(self) -> None:
        self.type("card", "card", anchor="web of the hand")
        self.type("card", "card", anchor="")
        self.assertNotIn("Not saved yet", self.page("card"))

    def test_half_a_number_and_a_wrong_one_come_back_as_they_were_typed(self) -> None:
        self.type("card", "card", eye_to_sight="32 1/", draw_weight="many")
        shown = fields(self.page("card"))
        self.assertEqual((shown["eye_to_sight"], shown["draw_weight"]), ("32 1/", "many"))

    def test_what_another_window_saved_meanwhile_is_joined(self) -> None:
        self.type("card", "card", anchor="web of the hand")
        self.client.post(f"{self.here}/card", data=self.other("release", "thumb"))
        self.client.post(f"{self.here}/draft/card", data=fields(self.old) | {"anchor": "web of the hand"})
        shown = fields(self.page("card"))
        self.assertEqual(self.client.post(f"{self.here}/card", data=shown).status_code, 303)
        now = fields(self.page("card"))
        self.assertEqual((now["anchor"], now["release"]), ("web of the hand", "thumb"))

    def other(self, name: str, text: str) -> dict[str, str]:
        self.old = self.page("card")
        self.client.post(f"{self.here}/draft/card/discard")
        return fields(self.page("card")) | {name: text}

    def test_one_save_of_eight_fields_is_one_revision(self) -> None:
        typed = {"anchor": "a", "release": "b", "occasion": "c", "bow": "d", "archer": "e", "rules": "f", "sight": "g",
                 "farthest": "90"}  # fmt: skip
        sent = {}
        for name, text in typed.items():
            sent |= {name: text}
            self.type("card", "card", **sent)
        self.client.post(f"{self.here}/card", data=fields(self.page("card")))
        self.assertIn("revision 3", self.page("card"))

    def test_forms_that_are_not_kept_while_typed(self) -> None:
        for form in ("tape", "arrow-", "arrow-x", "..", "card/sight"):
            self.assertIn(self.client.post(f"{self.here}/draft/{form}", data={"a": "b"}).status_code, (404, 405), form)
        self.assertEqual(self.client.post("/rigs/77/draft/card", data={"a": "b"}).status_code, 404)

    def test_a_save_that_is_asked_about_keeps_what_was_typed(self) -> None:
        self.shop.marks(self.rig_id, 17.0, 47.0)
        sent = self.type("card", "card", eye_to_sight="760")
        answer = self.client.post(f"{self.here}/card", data=sent)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("Was the bow changed", answer.text)
        self.assertEqual(fields(self.page("card"))["eye_to_sight"], "760")
        again = fields(answer.text)
        self.assertEqual(again["meant_dovetail"], "changed")
        self.assertEqual(self.client.post(f"{self.here}/card", data=again).status_code, 303)
        self.assertNotIn("Not saved yet", self.page("card"))


class Rows(WithDatabase):
    def test_the_oldest_of_many_drafts_go(self) -> None:
        from datetime import timedelta

        from cross_staff.services import drafts
        from cross_staff.storage.drafts import MOST_DRAFTS
        from tests.rigs import NOON

        rig_id = self.add_rig()
        for n in range(MOST_DRAFTS + 3):
            drafts.keep(self.database, rig_id, f"device-{n:04d}", "card", {"n": str(n)}, NOON + timedelta(minutes=n))
        kept = [n for n in range(MOST_DRAFTS + 3) if drafts.of(self.database, rig_id, f"device-{n:04d}", "card")]
        self.assertEqual(kept, list(range(3, MOST_DRAFTS + 3)))


if __name__ == "__main__":
    unittest.main()
