"""Draw the house from the contracts in pyproject.toml and the registry of stations: docs/architecture.svg."""

from __future__ import annotations

import sys
import tomllib
from html import escape
from pathlib import Path

from cross_staff.core.stations import STATIONS

ROOT = Path(__file__).parents[1]
WIDTH, MARGIN, ROW, GAP = 960, 24, 34, 8
LABEL = 150
SAID = {
    "cli": "commands",
    "web": "routes, forms, words, drawings; api/: the calculators",
    "demo": "the scenario",
    "services": "one use case a function, one record a page",
    "storage": "tables, migrations, frozen records",
    "core": "the craft's rules and numbers",
    "settings": "where the data lies",
}
# which rooms of the other floors a station has
FLOORS = {"web": "cross_staff/web", "services": "cross_staff/services", "core": "cross_staff/core"}


def layers(name: str) -> list[list[str]]:
    """The layers of a contract, from the top, each with what stands side by side in it."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    contract = next(each for each in contracts if each["name"].startswith(name))
    return [[part.strip() for part in layer.split("|")] for layer in contract["layers"]]


class Picture:
    """Boxes and words, from the top down."""

    def __init__(self) -> None:
        self.parts: list[str] = []
        self.y = MARGIN

    def heading(self, words: str) -> None:
        self.parts.append(f'<text class="head" x="{MARGIN}" y="{self.y + 14}">{escape(words)}</text>')
        self.y += 28

    def row(self, cells: list[tuple[str, str]], left: int = MARGIN, strong: bool = False) -> None:
        """Boxes side by side: a name and, behind it, what it is."""
        width = (WIDTH - MARGIN - left - GAP * (len(cells) - 1)) / len(cells)
        for place, (name, said) in enumerate(cells):
            x, kind = left + place * (width + GAP), "station" if strong else "floor"
            behind = f'<tspan dx="8" class="said">{escape(said)}</tspan>' if said else ""
            self.parts.append(
                f'<rect class="{kind}" x="{x:.1f}" y="{self.y}" width="{width:.1f}" height="{ROW}" rx="3"/>'
                f'<text x="{x + 10:.1f}" y="{self.y + 22}"><tspan class="name">{escape(name)}</tspan>{behind}</text>'
            )
        self.y += ROW + GAP

    def words(self, words: str) -> None:
        self.parts.append(f'<text class="side" x="{MARGIN}" y="{self.y + 22}">{escape(words)}</text>')

    def svg(self) -> str:
        style = (
            "text{font:14px sans-serif;fill:#17252e}.head{font-weight:600;fill:#835510}.name{font-weight:600}"
            ".said,.side{fill:#46545e;font-size:13px}.floor{fill:#fff;stroke:#b58a3c}.station{fill:#dcecee;stroke:#0e5f6e}"
        )
        height = self.y + MARGIN - GAP
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {height}" role="img" '
            f'aria-label="Floors, rooms and stations">\n<style>{style}</style>\n'
            f'<rect width="{WIDTH}" height="{height}" fill="#fbf8f1"/>\n' + "\n".join(self.parts) + "\n</svg>\n"
        )


def drawn() -> str:
    """The picture as text."""
    picture = Picture()
    picture.heading("Floors: imports run down only")
    for layer in layers("Floors"):
        picture.row([(name, SAID.get(name, "")) for name in layer])
    picture.y += GAP
    picture.heading("Stations: a room of the same name on every floor")
    picture.words("")
    picture.row([(station.name, "") for station in STATIONS], LABEL, strong=True)
    for floor, folder in FLOORS.items():
        picture.words(floor)
        rooms = [f"{station.key}/" if (ROOT / folder / station.key).is_dir() else "–" for station in STATIONS]
        picture.row([(room, "") for room in rooms], LABEL)
    picture.y += GAP
    picture.heading("Rooms of the core: from what knows all stations to what stands alone")
    for layer in layers("Rooms of the core"):
        picture.row([(name, "") for name in layer])
    return picture.svg()


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(drawn())
