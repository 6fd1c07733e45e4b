"""Public numerical functions of the core say what goes in and out, with units and shapes, and where it is from."""

from __future__ import annotations

import ast
import re
import unittest
from pathlib import Path

CORE = Path("cross_staff/core")
NUMBERS = re.compile(r"\b(float|Array|ArrayLike|NDArray|ndarray)\b")
UNIT = r"\[[^\]]*\]|\bany unit\b|\bunit of\b|\bsame unit\b|in the fit's own parameters"
SHAPE = (
    r"shape \([nk0-9, ]+\)|\bn (k |- 1 )?[\w-]+|\b[nk] rows\b|\bcount distances"
    r"|one or many|in the order asked|of the shape of"
)
COMES_BACK = r"\bArray\b|NDArray|list\["
SECTION = re.compile(r"^(Args|Returns|Raises|Source):$")


def numerical(function: ast.FunctionDef) -> bool:
    """Whether numbers go in or come out."""
    annotations = [a.annotation for a in (*function.args.args, *function.args.kwonlyargs)] + [function.returns]
    return any(each is not None and NUMBERS.search(ast.unparse(each)) for each in annotations)


def public_functions() -> list[tuple[str, ast.FunctionDef]]:
    """Every public numerical function of a module of the core, with where it is."""
    return [
        (f"{path.relative_to(CORE)}:{node.name}", node)
        for path in sorted(CORE.rglob("*.py"))
        for node in ast.parse(path.read_text()).body
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_") and numerical(node)
    ]


def sections(docstring: str) -> dict[str, list[str]]:
    """The lines of each section, without their indent; the first is what stands before them all."""
    parts: dict[str, list[str]] = {"": []}
    current = ""
    for line in docstring.splitlines():
        heading = SECTION.match(line)
        if heading:
            current = heading.group(1)
            parts[current] = []
        elif line.strip():
            parts[current].append(line.removeprefix("    "))
    return parts


def entries(lines: list[str]) -> dict[str, str]:
    """What a section says of each name; a line that is indented goes on with the one before."""
    said: dict[str, str] = {}
    name = ""
    for line in lines:
        if not line.startswith(" "):
            name, _, text = line.partition(":")
            said[name] = text.strip()
        else:
            said[name] += " " + line.strip()
    return said


FUNCTIONS = [(where, each, sections(ast.get_docstring(each) or "")) for where, each in public_functions()]


class Docstrings(unittest.TestCase):
    def test_there_are_some(self) -> None:
        self.assertGreater(len(public_functions()), 100)

    def test_each_begins_with_a_sentence(self) -> None:
        for where, _, said in FUNCTIONS:
            with self.subTest(where):
                self.assertRegex(" ".join(said[""]), r"^[A-Z0-9`].*[.?)\]]$")

    def test_every_argument_is_said_with_its_unit(self) -> None:
        for where, function, said in FUNCTIONS:
            with self.subTest(where):
                arguments = [*function.args.args, *function.args.kwonlyargs]
                args = entries(said.get("Args", []))
                self.assertEqual(list(args), [each.arg for each in arguments])
                for each in arguments:
                    annotation = ast.unparse(each.annotation) if each.annotation else ""
                    self.assertTrue(args[each.arg], each.arg)
                    if NUMBERS.search(annotation):
                        self.assertRegex(args[each.arg], UNIT, each.arg)
                    if re.match(r"ArrayLike|Array\b|NDArray|Sequence\[float\]", annotation):
                        self.assertRegex(args[each.arg], SHAPE, each.arg)

    def test_what_comes_back_is_said_with_its_unit(self) -> None:
        for where, function, said in FUNCTIONS:
            with self.subTest(where):
                back = ast.unparse(function.returns) if function.returns else "None"
                words = " ".join(said.get("Returns", []))
                self.assertEqual(bool(words), back != "None")
                if NUMBERS.search(back):
                    self.assertRegex(words, UNIT)
                if re.search(COMES_BACK, back) and NUMBERS.search(back):
                    self.assertRegex(words, SHAPE)

    def test_everything_that_is_raised_is_said(self) -> None:
        for where, function, said in FUNCTIONS:
            with self.subTest(where):
                raised = {ast.unparse(node.exc.func) for node in ast.walk(function)
                          if isinstance(node, ast.Raise) and isinstance(node.exc, ast.Call)}  # fmt: skip
                self.assertLessEqual(raised, set(entries(said.get("Raises", []))))

    def test_each_says_where_it_is_from(self) -> None:
        method = Path("docs/method.md").read_text()
        for where, _, said in FUNCTIONS:
            with self.subTest(where):
                source = " ".join(said.get("Source", []))
                self.assertTrue(source)
                for first, second in re.findall(r"method\.md, sections? (\d+)(?: and (\d+))?", source):
                    for number in filter(None, (first, second)):
                        self.assertIn(f"\n## {number}. ", method)


if __name__ == "__main__":
    unittest.main()
