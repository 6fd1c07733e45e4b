"""Cards as older versions of the program wrote them, brought up to the present layout when read.

Revisions are records and are never rewritten.
"""

from __future__ import annotations

from typing import Any


def modern(card: dict[str, Any]) -> dict[str, Any]:
    """A card of any layout in the present one: first layout, one build and a sight in words."""
    if "build" not in card:
        return card
    modern = dict(card)
    build, session = modern.pop("build"), modern.pop("chronograph")
    sessions = [session] if session["readings_mps"] else []
    sight = {"name": modern["sight"], "kind": modern.pop("sight_kind"), "tape": modern.pop("tape")}
    return modern | {"bow": {"words": modern["bow"]}, "sight": sight, "builds": [build | {"sessions": sessions}]}
