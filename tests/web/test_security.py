from pathlib import Path

from cross_staff.web.security import POLICY
from tests.web.client import WithClient

TEMPLATES = Path("cross_staff/web/templates")


class Doors(WithClient):
    def test_every_page_carries_the_policy(self) -> None:
        rig_id = self.add_rig()
        for path in ("/", f"/rigs/{rig_id}/card", f"/rigs/{rig_id}/tape", "/nowhere", "/static/css/shared/app.css"):
            headers = self.client.get(path).headers
            self.assertEqual(headers["content-security-policy"], POLICY, path)
            self.assertEqual(headers["x-content-type-options"], "nosniff")
        self.assertNotIn("unsafe", POLICY)

    def test_cross_site_posts_are_refused(self) -> None:
        for headers in (
            {"Origin": "http://elsewhere.example"},
            {"Sec-Fetch-Site": "cross-site"},
            {"Sec-Fetch-Site": "same-site"},
            {"Origin": "null"},
            {"Origin": "http://127.0.0.1:9", "Sec-Fetch-Site": "same-origin"},
        ):
            for path in ("/rigs", "/api/v1/arrow/build"):
                with self.subTest(headers=headers, path=path):
                    self.assertEqual(self.client.post(path, data={"name": "x"}, headers=headers).status_code, 403)
        self.assertIn("first rig", self.client.get("/").text)

    def test_our_own_posts_and_scripts_are_let_in(self) -> None:
        for headers in (
            {},
            {"Origin": "http://127.0.0.1", "Sec-Fetch-Site": "same-origin"},
            {"Sec-Fetch-Site": "none"},
        ):
            self.assertEqual(self.client.post("/rigs", data={"name": "x"}, headers=headers).status_code, 303)

    def test_a_strangers_name_for_this_machine_is_refused(self) -> None:
        self.assertEqual(self.client.get("/", headers={"Host": "rebound.example"}).status_code, 403)
        self.assertEqual(self.client.get("/", headers={"Host": "localhost:8000"}).status_code, 200)

    def test_too_much_is_refused_with_and_without_a_length(self) -> None:
        big = b"name=" + b"x" * 70_000
        kind = {"Content-Type": "application/x-www-form-urlencoded"}
        self.assertEqual(self.client.post("/rigs", content=big, headers=kind).status_code, 413)
        pieces = (big[i : i + 8000] for i in range(0, len(big), 8000))
        self.assertEqual(self.client.post("/rigs", content=pieces, headers=kind).status_code, 413)
        answer = self.client.post("/api/v1/arrow/build", content=big)
        self.assertEqual((answer.status_code, answer.headers["content-type"]), (413, "application/problem+json"))

    def test_files_are_not_taken(self) -> None:
        answer = self.client.post("/rigs", files={"name": ("x.txt", b"boo")})
        self.assertEqual(answer.status_code, 400)

    def test_what_is_typed_is_never_markup(self) -> None:
        self.client.post("/rigs", data={"name": "<script>alert(1)</script>"})
        page = self.client.get("/").text
        self.assertNotIn("<script>alert", page)
        self.assertIn("&lt;script&gt;alert", page)

    def test_no_template_has_inline_code_or_an_address_elsewhere(self) -> None:
        for file in TEMPLATES.rglob("*"):
            if file.is_file():
                text = file.read_text().replace("http://www.w3.org/2000/svg", "")
                for word in ("<script>", "onclick", "onload", "style=", "hx-on", "http://", "https://", "javascript:"):
                    self.assertNotIn(word, text, file.name)
