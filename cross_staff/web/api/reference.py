"""The JSON interface as it is read: each calculator with what it takes, what it gives, and a worked example."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

PREFIX = "/api/v1"
_KINDS = {"number": "number", "integer": "whole number", "string": "text", "boolean": "true or false"}


@dataclass(frozen=True)
class Part:
    """One figure of a body: where it stands (dotted, `[]` for a list), its kind, its bounds, whether it is needed."""

    name: str
    kind: str
    within: str
    needed: bool


@dataclass(frozen=True)
class Calculator:
    """One calculator of the interface: its address, what it does, its example, what it takes and gives."""

    path: str
    says: str
    example: str
    takes: tuple[Part, ...]
    gives: tuple[Part, ...]

    @property
    def lines(self) -> int:
        """How many lines of the example are shown at once."""
        return min(self.example.count("\n") + 1, 16)

    @property
    def key(self) -> str:
        return self.path.removeprefix(PREFIX).strip("/").replace("/", "-")


def calculators(schema: dict[str, Any]) -> list[Calculator]:
    """Every calculator of an OpenAPI schema, in its order."""
    models = schema["components"]["schemas"]

    def parts(content: dict[str, Any]) -> tuple[Part, ...]:
        return tuple(_parts(content["content"]["application/json"]["schema"], models))

    return [
        Calculator(
            path,
            told["description"].replace("\n", " "),
            json.dumps(told["requestBody"]["content"]["application/json"]["example"], indent=1),
            parts(told["requestBody"]),
            parts(told["responses"]["200"]),
        )
        for path, methods in schema["paths"].items()
        for told in methods.values()
    ]


def _parts(asked: dict[str, Any], models: dict[str, Any], name: str = "", needed: bool = True) -> Iterator[Part]:
    """The figures of a schema, those within others dotted."""
    if "$ref" in asked:
        asked = models[asked["$ref"].rsplit("/", 1)[1]]
    ways = [each for each in asked.get("anyOf", ()) if each.get("type") != "null"]
    if ways:
        yield from _parts(ways[0], models, name, needed and len(ways) == len(asked["anyOf"]))
    elif "properties" in asked:
        for key, part in asked["properties"].items():
            yield from _parts(part, models, f"{name}.{key}".lstrip("."), needed and key in asked.get("required", ()))
    elif asked.get("type") == "array":
        yield from _parts(asked["items"], models, f"{name}[]", needed)
    elif isinstance(asked.get("additionalProperties"), dict):
        yield from _parts(asked["additionalProperties"], models, f"{name}{{}}", needed)
    else:
        yield Part(name, _KINDS.get(asked.get("type", ""), "anything"), _within(asked), needed)


def _within(asked: dict[str, Any]) -> str:
    low, high = asked.get("minimum"), asked.get("maximum")
    words = [f"{low:g} to {high:g}" if low is not None and high is not None else ""]
    if not words[0]:
        words = [
            f"{sign} {asked[key]:g}"
            for key, sign in (
                ("minimum", "from"),
                ("exclusiveMinimum", "above"),
                ("maximum", "to"),
                ("exclusiveMaximum", "below"),
            )
            if key in asked
        ]
    if "enum" in asked:
        words.append(", ".join(map(str, asked["enum"])))
    return ", ".join(filter(None, words))
