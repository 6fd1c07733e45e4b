"""Write the JSON schemas of the files that travel, and of a line of an instrument: schemas.py FOLDER."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from cross_staff.devices import protocol
from cross_staff.services.carry.documents import INSTRUMENTS, RIG, SIGHT, schema

NAMES = {"rig": RIG, "sight-model": SIGHT, "instruments": INSTRUMENTS}


def main(folder: Path) -> None:
    """Write each under its name."""
    schemas = {name: schema(kind) for name, kind in NAMES.items()} | {"instrument-line": protocol.schema()}
    for name, told in schemas.items():
        text = json.dumps(told, indent=1, ensure_ascii=False)
        (folder / f"{name}.schema.json").write_text(f"{text}\n", encoding="utf-8")
    guide = folder.parent / "instruments.md"
    before, _, _ = guide.read_text(encoding="utf-8").partition("```json\n")
    told = json.dumps(protocol.schema(), indent=1, ensure_ascii=False)
    guide.write_text(f"{before}```json\n{told}\n```\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
