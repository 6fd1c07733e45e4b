"""Make the demo shop anew from its scenario: demo_shop.py ARCHIVE."""

from __future__ import annotations

import sys
import tempfile
import zipfile
from datetime import UTC, datetime, time, timedelta
from pathlib import Path

from cross_staff.demo.made_on import MADE_ON
from cross_staff.demo.scenario import BY, HANDED_OVER, make
from cross_staff.demo.shop import named
from cross_staff.services import bench
from cross_staff.services.carry.documents import PHOTOS, RIG, put, written
from cross_staff.services.prove import handover
from cross_staff.services.rig import open_rig
from cross_staff.storage import whole_rigs
from cross_staff.storage.database import Database
from cross_staff.web.handover.content import content


def made(database: Database) -> None:
    """The rigs of the scenario, one of them with its card signed: the words on it are those of the pages."""
    make(database)
    when = datetime.combine(MADE_ON, time(10), UTC) - timedelta(days=2)
    told = content(database, open_rig(database, HANDED_OVER), MADE_ON, "")
    handover.sign(
        database, HANDED_OVER, told, BY, "Shoot the first line at 38 m before you trust the far stakes.", when
    )


def main(target: Path) -> None:
    """Every rig as a document, every photo once."""
    with tempfile.TemporaryDirectory() as folder, zipfile.ZipFile(target, "w") as archive:
        database = Database(Path(folder) / "made.sqlite3")
        database.migrate()
        made(database)
        photos: dict[str, bytes] = {}
        for rig_id in bench.every(database):
            with database.reading() as connection:
                rig = named(whole_rigs.whole(connection, rig_id))
                photos |= whole_rigs.jpegs(connection, rig_id)
            put(archive, f"rigs/{rig_id:02}.json", written(RIG, rig))
        for name, jpeg in sorted(photos.items()):
            put(archive, f"{PHOTOS}{name}.jpg", jpeg)
        database.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
