"""The page on which the JSON interface is read and tried."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.web.api.reference import calculators
from cross_staff.web.shared.render import render

router = APIRouter()


@router.get("/docs")
def interface_page(request: Request) -> Response:
    """Every calculator with its example, what it takes and what it gives."""
    return render(request, "api/page.html", calculators=calculators(request.app.openapi()))
