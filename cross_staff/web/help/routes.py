"""Help: everything on one page, searched by words; and the words that pages link to."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.web.guide.texts import CAUTIONS, GUIDES, TERMS
from cross_staff.web.shared.render import render

router = APIRouter()
MOST_WORDS = 60


@router.get("/help")
def help_page(request: Request) -> Response:
    """Guides, words, keys and cautions; with `q` those in which all of its words stand."""
    asked = request.query_params.get("q", "")[:MOST_WORDS].strip()
    words = asked.lower().split()

    def found(*texts: str) -> bool:
        whole = " ".join(texts).lower()
        return all(word in whole for word in words)

    guides = [g for g in GUIDES if found(g.name, g.what, *g.steps, *g.wrong, g.caution)]
    terms = [t for t in TERMS if found(t.name, t.means, *t.also)]
    cautions = [c for c in CAUTIONS if found(c)]
    return render(request, "help/page.html", asked=asked, guides=guides, terms=terms, cautions=cautions, all=not words)
