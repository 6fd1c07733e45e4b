"""How long each page takes, beside the card page of the same rig in the same run: a handful of rigs, then many.

python bench/pages.py            pages of the demo, as ratios to the card page
python bench/pages.py 5000 40    the same among 5,000 rigs with 40 arrows each, as ratios to a handful
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from sqlalchemy import text
from starlette.testclient import TestClient

from cross_staff.demo.shop import fill
from cross_staff.services.rig import open_rig
from cross_staff.settings import Settings
from cross_staff.storage.database import Database
from cross_staff.web.app import create_app
from tests.crowd import crowd

ROUNDS = 15
FULL = 60  # rigs that fill a page of the bench
RIG = 1
PAGES = (
    "card", "card/arrows", "card/sight", "card/revisions", "prepare", "mount", "mount/marks", "level", "level/setup",
    "level/cost", "sight_in", "tape", "tape/print", "tape/pins", "tape/dialled", "tape/holds", "tape/slopes",
    "tape/fits", "tape/booklet", "tape/change", "tape/range-sheet",
)  # fmt: skip


def timed(act: Callable[[], object], rounds: int = ROUNDS) -> float:
    """The median time of an act [ms], after one that is not counted."""
    act()
    times = []
    for _ in range(rounds):
        begun = time.perf_counter()
        act()
        times.append(1000.0 * (time.perf_counter() - begun))
    return statistics.median(times)


def pages(client: TestClient, database: Database) -> dict[str, tuple[float, float]]:
    """Each page by its path: the median time as it stands, and just after a change of the rig [ms]."""
    pages = {"/": (timed(lambda: client.get("/")), 0.0)}
    for page in PAGES:
        path = f"/rigs/{RIG}/{page}"

        def fresh(path: str = path) -> None:
            with database.writing() as connection:
                connection.execute(text(f"UPDATE rigs SET version = version + 1 WHERE id = {RIG}"))
            client.get(path)

        pages[path] = (timed(lambda path=path: client.get(path)), timed(fresh, 5))  # type: ignore[misc]
    return pages


def main() -> None:
    rigs, arrows = (int(word) for word in sys.argv[1:3]) if len(sys.argv) > 2 else (0, 0)
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Settings(data=Path(folder)))
        with TestClient(app, base_url="http://127.0.0.1") as client:
            database: Database = app.state.database
            fill(database)
            few = pages(client, database)
            card = few[f"/rigs/{RIG}/card"]
            print(f"{'page':28} {'as it stands':>12} {'to the card':>12} {'just changed':>12} {'to the card':>12}")
            for path, (warm, cold) in few.items():
                print(f"{path:28} {warm:9.1f} ms {warm / card[0]:11.2f} {cold:9.1f} ms {cold / card[1]:11.2f}")
            if not rigs:
                return
            crowd(database, FULL, arrows)
            full = timed(lambda: client.get("/"))
            crowd(database, rigs, arrows)
            open_rig(database, RIG)
            many = pages(client, database)
            again = timed(lambda: client.get("/"))
            print(f"\nThe bench with a full page of lines, {FULL} rigs and {rigs}: {full:.1f} and {again:.1f} ms")
            print(f"\nAmong {rigs} rigs with {rigs * arrows} arrows, to the same page among 7:")
            for path, (warm, cold) in many.items():
                change = f"{cold / few[path][1]:11.2f}" if few[path][1] else ""
                print(f"{path:28} {warm:9.1f} ms {warm / few[path][0]:11.2f} {cold:9.1f} ms {change}")


if __name__ == "__main__":
    main()
