"""About this program and its data: version, folder, size, backups, licence; whether it is well, for a supervisor."""

from __future__ import annotations

import logging
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import JSONResponse, RedirectResponse, Response

from cross_staff import __version__
from cross_staff.core.errors import NotKept
from cross_staff.services import bench
from cross_staff.services.keeping.backups import BackupState, folder_of, size_of, state_of, tonight
from cross_staff.web.security import HEALTH
from cross_staff.web.shared.moments import ago_words, local_time
from cross_staff.web.shared.render import render

router = APIRouter()
_LOG = logging.getLogger("cross_staff")
MOST_SHOWN = 12


@router.get("/about")
def about(request: Request) -> Response:
    """Version, data, backups, licence."""
    settings, keeping, now = request.app.state.settings, request.app.state.keeping, datetime.now(UTC)
    files = [
        {"name": file.name, "size": size_words(file.stat().st_size), "when": local_time(_made(file))}
        for file in folder_of(keeping)[:MOST_SHOWN]
    ]
    return render(
        request,
        "bench/about.html",
        version=__version__,
        folder=settings.data,
        size=size_words(size_of(settings.database_file)),
        rigs=len(bench.every(request.app.state.database)),
        backups=backup_words(state_of(keeping), now, settings.nightly),
        backup_folder=keeping.folder,
        files=files,
        nightly=settings.nightly,
        behind=settings.behind,
    )


@router.post("/about/backup")
def back_up(request: Request) -> Response:
    """Make tonight's backup now."""
    tonight(request.app.state.keeping, datetime.now(UTC), again=True)
    return RedirectResponse("/about", 303)


@router.api_route(HEALTH, methods=["GET", "HEAD"])
def health(request: Request) -> Response:
    """Whether the data can be read: 200, or 503 with why. It says nothing of what is in it."""
    try:
        bench.readable(request.app.state.database)
    except NotKept as error:
        _LOG.error("not well: %s", error)
        return JSONResponse({"status": "unwell", "version": __version__, "why": error.remedy}, 503)
    return JSONResponse({"status": "ok", "version": __version__})


def nightly(request: Request) -> bool:
    """Whether the backups of the night are made here."""
    return bool(request.app.state.settings.nightly)


def backup_words(state: BackupState, now: datetime, nightly: bool) -> dict[str, Any]:
    """How backups went: one line, whether it is a warning; why, and what to do about it."""
    made = f"{ago_words(state.made, now)}, {local_time(state.made)}" if state.made else ""
    if state.failing and state.failed:
        last = f"The last one is of {made}." if made else "There is none yet."
        return {"wrong": True, "say": f"The backup of {local_time(state.failed)} failed.", "last": last,
                "reason": f"{_sentence(state.reason)} {_sentence(state.remedy)}"}  # fmt: skip
    if nightly and state.late(now):
        return {"wrong": True, "say": f"The last backup is of {made}.", "last": "", "reason": "Make one now."}
    return {"wrong": False, "say": f"Backed up {made}." if made else "", "last": "", "reason": ""}


def _sentence(words: str) -> str:
    return f"{words[0].upper()}{words[1:]}." if words else ""


def size_words(count: int) -> str:
    """A size in bytes as people say it."""
    return f"{count / 1e6:.1f} MB" if count >= 1e6 else f"{max(count, 1000) / 1e3:.0f} KB"


def _made(file: Path) -> datetime:
    return datetime.fromtimestamp(0, UTC) + timedelta(seconds=int(file.stat().st_mtime))
