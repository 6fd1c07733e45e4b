"""What help has to say, read once from guide.toml: guides, words, keys, cautions; the same as a page of the docs."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from pathlib import Path
from typing import Any

_SOURCE = Path(__file__).with_name("guide.toml")
# words that stand everywhere, or mean something else as well: they are explained, and are no links
_NOT_LINKED = frozenset(
    (
        *("home", "tape", "strip", "end", "mark", "peep", "hold", "cut", "plus-minus", "revision", "click", "cold"),
        *(
            "spread",
            "pointer",
            "shift",
            "stretch",
            "day",
            "offset",
            "drag",
            "elevation",
            "windage",
            "plumb",
            "extension",
        ),
    )
)


@dataclass(frozen=True)
class Term:
    """A word of the field: its key, its name, what it means, and how else it is met in the text of a page."""

    key: str
    name: str
    means: str
    also: tuple[str, ...] = ()


@dataclass(frozen=True)
class Guide:
    """A station's guide: what it is for, the order of work, what goes wrong, the caution; the name of its picture."""

    key: str
    name: str
    picture: str
    what: str
    steps: tuple[str, ...]
    wrong: tuple[str, ...]
    caution: str


@dataclass(frozen=True)
class Keys:
    """What keys do: on which page, on every page or on every one of a rig; which keys, pressed together."""

    on: str
    press: tuple[str, ...]
    does: str


EVERYWHERE, OF_A_RIG, TAKING = "everywhere", "rig", "instruments"


def _told(kept: dict[str, Any]) -> dict[str, Any]:
    return {name: tuple(value) if isinstance(value, list) else value for name, value in kept.items()}


_HELP = tomllib.loads(_SOURCE.read_text(encoding="utf-8"))
TERMS = tuple(Term(**_told(each)) for each in _HELP["terms"])
GUIDES = tuple(Guide(**_told(each)) for each in _HELP["guides"])
KEYS = tuple(Keys(**_told(each)) for each in _HELP["keys"])
CAUTIONS = tuple(_HELP["cautions"])


def keys_of(here: str = "", rig: bool = False, takes: bool = False) -> list[tuple[str, list[Keys]]]:
    """The keys that a page has, its own first, each group with its name; of help all, station by station."""
    names = {guide.key: guide.name for guide in GUIDES}
    wanted = [here] if here in names else list(names) if here == "help" else []
    groups = [(names[key], [each for each in KEYS if each.on == key]) for key in wanted]
    for on, name, shown in (
        (TAKING, "With a measuring instrument", takes or here == "help"),
        (OF_A_RIG, "On a rig", rig or here == "help"),
        (EVERYWHERE, "On every page", True),
    ):
        groups += [(name, [each for each in KEYS if each.on == on])] if shown else []
    return [group for group in groups if group[1]]


def linked() -> dict[str, tuple[str, str]]:
    """What is made a link where it first stands on a page: the words, each with its key and what it means."""
    terms = (term for term in TERMS if term.key not in _NOT_LINKED)
    return {words: (term.key, term.means) for term in terms for words in (term.name, *term.also)}


def markdown() -> str:
    """The guide as it stands in docs/guide.md, with the pictures."""
    lines = ["# Guide", "", "Made from the help in the application (`make guide`); there it can be searched.", ""]
    for guide in GUIDES:
        lines += [f"## {guide.name}", "", guide.what, "", f"![{guide.name}](screenshots/{guide.picture}.png)", ""]
        lines += [f"{number}. {step}" for number, step in enumerate(guide.steps, start=1)]
        lines += ["", *(f"- What goes wrong: {wrong}" for wrong in guide.wrong), "", f"> {guide.caution}", ""]
    lines += ["## Keys", ""]
    for name, keys in keys_of("help"):
        lines += [
            f"{name}:",
            "",
            *(f"- {' '.join(f'`{key}`' for key in each.press)}: {each.does}" for each in keys),
            "",
        ]
    lines += ["## Cautions", "", *(f"- {caution}" for caution in CAUTIONS), "", "## Words", ""]
    lines += [f"- **{term.name}**: {term.means}" for term in TERMS]
    return "\n".join(lines) + "\n"
