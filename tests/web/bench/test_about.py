"""About this program: what it shows is true."""

import html
import re

from tests.web.client import WithClient


class About(WithClient):
    def test_the_example_of_the_json_interface_is_answered(self) -> None:
        page = html.unescape(self.client.get("/about").text)
        example = re.search(r"curl \S*?/?(api/v1/\S+) .*?-d '(.*?)'", page, re.S)
        told = {"Content-Type": "application/json"}
        answer = self.client.post(f"/{example.group(1)}", content=example.group(2), headers=told)
        self.assertEqual(answer.status_code, 200, answer.text)
