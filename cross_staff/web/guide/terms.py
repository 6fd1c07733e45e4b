"""Words of the field as links: where one first stands in what a page explains, it leads to its place in the help."""

from __future__ import annotations

import re
from html import escape

from markupsafe import Markup

from cross_staff.web.guide.texts import linked

_WORDS = {words.lower(): told for words, told in linked().items()}
_LONGEST_FIRST = sorted(_WORDS, key=len, reverse=True)
_WORD = re.compile(rf"(?<![\w-])({'|'.join(map(re.escape, _LONGEST_FIRST))})(?![\w-])", re.IGNORECASE)
_TOKEN = re.compile(
    r"<!--.*?-->|<(?P<end>/)?(?P<tag>[a-zA-Z][\w-]*)(?P<rest>(?:[^>\"']|\"[^\"]*\"|'[^']*')*)>|[^<]+", re.S
)
_CLASS = re.compile(r'\bclass="([^"]*)"')
_EXPLAINS = frozenset(("why", "quiet", "hint", "look", "said"))
_NEVER_IN = frozenset(
    ("a", "button", "label", "svg", "summary", "select", "textarea", "script", "style", "pre", "head")
)
_EMPTY = frozenset(
    ("area", "br", "col", "hr", "img", "input", "link", "meta", "source", "wbr")
)  # have no end of their own


def with_terms(html: str) -> Markup:
    """The page with its words linked; what is folded or hidden is left for where the word stands in sight."""
    out: list[str] = []
    open_tags: list[
        tuple[str, bool, bool]
    ] = []  # of each: its name, whether it explains, whether nothing is linked in it
    said: set[str] = set()
    explains = barred = False
    for token in _TOKEN.finditer(html):
        name, text = (token["tag"] or "").lower(), token[0]
        if token["end"]:
            while open_tags and open_tags.pop()[0] != name:
                pass
        elif name and name not in _EMPTY and not text.endswith("/>"):
            classes = _CLASS.search(token["rest"])
            folded = (name == "details" and " open" not in token["rest"]) or " hidden" in token["rest"]
            explains_here = explains or bool(classes and _EXPLAINS.intersection(classes[1].split()))
            open_tags.append((name, explains_here, barred or folded or name in _NEVER_IN))
        if name:
            explains, barred = open_tags[-1][1:] if open_tags else (False, False)
        elif explains and not barred and not text.startswith("<!--"):
            text = _linked(text, said)
        out.append(text)
    return Markup("".join(out))


def _linked(text: str, said: set[str]) -> str:
    def link(word: re.Match[str]) -> str:
        key, means = _WORDS[word[0].lower()]
        if key in said:
            return word[0]
        said.add(key)
        return f'<a class="term" href="/help#{key}" title="{escape(means)}">{word[0]}</a>'

    return _WORD.sub(link, text)
