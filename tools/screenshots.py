"""Take the pictures in docs/screenshots from the demo data."""

from __future__ import annotations

import sys
from datetime import UTC, datetime
from pathlib import Path

from cross_staff.demo.practice_work import practised
from cross_staff.demo.shop import fill
from cross_staff.storage.database import Database
from tests.browser import TIMEOUT_MS, Chromium, LiveServer

BENCH, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
VIEWS = {
    "bench": ("/", BENCH, "light"),
    "card": ("/rigs/1/card", BENCH, "light"),
    "events": ("/rigs/3/events?did=d_loop", BENCH, "light"),
    "photos": ("/rigs/7/photo-bench/26?use=peep", BENCH, "light"),
    "prepare": ("/rigs/6/prepare", BENCH, "light"),
    "mount": ("/rigs/1/mount", BENCH, "light"),
    "level": ("/rigs/2/level", BENCH, "light"),
    "sight-in": ("/rigs/7/sight_in", BENCH, "light"),
    "sight-in-phone": ("/rigs/7/sight_in", PHONE, "light"),
    "tape": ("/rigs/1/tape", BENCH, "light"),
    "tape-lamp": ("/rigs/2/tape", BENCH, "dark"),
    "print": ("/rigs/3/tape/print?copies=2", BENCH, "light"),
    "pins": ("/rigs/1/tape/pins", BENCH, "light"),
    "holds": ("/rigs/1/tape/holds", BENCH, "light"),
    "week": ("/plan", BENCH, "light"),
    "prove": ("/rigs/9/prove", BENCH, "light"),
    "practice": ("/rigs/13/practice", BENCH, "light"),
    "explain": ("/explain/chased?rig=7", BENCH, "light"),
    "hand-over": ("/rigs/9/prove/hand-over?number=1", BENCH, "light"),
}


def filled(database: Database) -> None:
    """The demo's rigs, and two of the practice bench."""
    fill(database)
    practised(database, datetime(2026, 5, 9, 8, 0, tzinfo=UTC))


def main(folder: Path, chosen: list[str]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    server = LiveServer(filled)
    try:
        for name, (path, size, scheme) in VIEWS.items():
            if chosen and name not in chosen:
                continue
            context = Chromium.browser().new_context(viewport=size, color_scheme=scheme)
            page = context.new_page()
            page.set_default_timeout(TIMEOUT_MS)
            answer = page.goto(server.address + path)
            if answer is None or not answer.ok:
                raise RuntimeError(f"{path} has no picture: it does not open")
            page.wait_for_load_state("networkidle")
            page.evaluate("document.fonts.ready")
            page.screenshot(path=folder / f"{name}.png")
            context.close()
    finally:
        Chromium.close()
        server.stop()


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2:])
