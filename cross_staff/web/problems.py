"""Errors of the JSON interface as application/problem+json (RFC 9457)."""

from __future__ import annotations

from http import HTTPStatus
from typing import Any

from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel
from starlette.responses import JSONResponse

MEDIA_TYPE = "application/problem+json"


class FieldProblem(BaseModel):
    """One field that cannot be right."""

    field: str
    message: str


class Problem(BaseModel):
    """RFC 9457 problem details."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[FieldProblem] = []


def _declared(description: str) -> dict[str, Any]:
    schema = {"$ref": "#/components/schemas/Problem"}
    return {"description": description, "content": {MEDIA_TYPE: {"schema": schema}}}


DECLARED: dict[int | str, dict[str, Any]] = {
    400: _declared("The body is not readable"),
    403: _declared("Refused: the request came from another site"),
    404: _declared("There is nothing here"),
    413: _declared("Too much was sent"),
    422: _declared("A value cannot be right"),
}


def problem(status: int, detail: str, errors: list[FieldProblem] | None = None, headers: Any = None) -> JSONResponse:
    """The answer for a problem."""
    body = Problem(
        type="about:blank",
        title=HTTPStatus(status).phrase,
        status=status,
        detail=detail,
        errors=errors or [],
    )
    return JSONResponse(body.model_dump(), status, headers, MEDIA_TYPE)


def refused_field(field: str, message: str) -> JSONResponse:
    """422 for one field that the core refused."""
    return problem(422, f"{field}: {message}", [FieldProblem(field=field, message=message)])


def refused_body(error: RequestValidationError) -> JSONResponse:
    """422 for a body that does not fit its model, each field by its dotted path."""
    errors = [FieldProblem(field=_path(item["loc"]), message=str(item["msg"])) for item in error.errors()]
    detail = "; ".join(f"{item.field}: {item.message}" for item in errors[:5])
    return problem(422, detail, errors)


def _path(location: tuple[Any, ...]) -> str:
    return ".".join(str(part) for part in location if part != "body") or "body"
