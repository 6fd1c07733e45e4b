"""How many arrows a tape costs: the usual hand method beside the program, on simulated bows.

Printed: the RMS error at the farthest distance against arrows shot, for both, and how often the program's
stated 95 % band holds the true mark; drawn as docs/arrows-to-tape.svg when that name is given.
"""

from __future__ import annotations

import os
import sys
from concurrent.futures import ProcessPoolExecutor
from itertools import repeat
from pathlib import Path

import numpy as np

from cross_staff.core.simulate.tape_trial import GROUP, Stage, by_hand, by_program, draw

BOWS, WIDER_BOWS, WIDER = 2000, 500, 1.5
ARROWS = 36
DAYS_MRAD = (0.3, 0.5)
HAND_ARROWS = (6, 12, 18, 24, 30, 36, 54, 108)
Result = tuple[dict[int, float], list[Stage]]


def one(seed: int, wider: float, day_mrad: float = 0.0) -> Result:
    """One bow by both methods; nine arrows of each day share an offset."""
    hand = {arrows: by_hand(draw(seed, wider, day_mrad), arrows) for arrows in HAND_ARROWS}
    return hand, by_program(draw(seed, wider, day_mrad), ARROWS)


def rms(errors_m: list[float]) -> float:
    """Root mean square [cm]."""
    return 100.0 * float(np.sqrt(np.mean(np.square(errors_m))))


def summed(results: list[Result]) -> tuple[dict[int, float], dict[int, float], dict[int, float]]:
    """RMS errors [cm] by hand and by the program, and the percent of bands that held, by arrows."""
    hand = {arrows: rms([row[arrows] for row, _ in results]) for arrows in HAND_ARROWS}
    program, held = {}, {}
    for place, arrows in enumerate(range(GROUP, ARROWS + 1, GROUP)):
        stages = [row[place] for _, row in results]
        program[arrows] = rms([stage.error_m for stage in stages])
        held[arrows] = 100.0 * float(np.mean([stage.held for stage in stages]))
    return hand, program, held


def table(title: str, results: list[Result]) -> str:
    hand, program, held = summed(results)
    lines = [title, "arrows   by hand, cm   program, cm   ratio   95 % band holds"]
    for arrows in sorted({*hand, *program}):
        by_both = arrows in hand and arrows in program
        lines.append(
            f"{arrows:6d}   {f'{hand[arrows]:.1f}' if arrows in hand else '':>11}   "
            f"{f'{program[arrows]:.1f}' if arrows in program else '':>11}   "
            f"{f'{program[arrows] / hand[arrows]:.2f}' if by_both else '':>5}   "
            f"{f'{held[arrows]:.1f} %' if arrows in program else '':>15}"
        )
    third = ", ".join(f"{n}: {program[n]:.1f} against {hand[3 * n]:.1f}" for n in (6, 12, 18, 36) if 3 * n in hand)
    return "\n".join([*lines, f"with a third of the arrows, cm: {third}"])


def figure(results: list[Result]) -> str:
    """RMS error against arrows as an SVG."""
    hand, program, _ = summed(results)
    hand = {arrows: v for arrows, v in hand.items() if arrows <= ARROWS}
    top = 5.0 * (int(max(*hand.values(), *program.values()) / 5.0) + 1)

    def x(arrows: float) -> float:
        return 70.0 + 14.0 * arrows

    def y(cm: float) -> float:
        return 300.0 - 260.0 * cm / top

    def line(points: dict[int, float], colour: str) -> str:
        path = " ".join(f"{x(a):.1f},{y(v):.1f}" for a, v in points.items())
        dots = "".join(f'<circle cx="{x(a):.1f}" cy="{y(v):.1f}" r="4" fill="{colour}"/>' for a, v in points.items())
        return f'<polyline points="{path}" fill="none" stroke="{colour}" stroke-width="2.5"/>{dots}'

    def words(px: float, py: float, text: str, anchor: str = "middle") -> str:
        return f'<text x="{px:.1f}" y="{py:.1f}" text-anchor="{anchor}">{text}</text>'

    grid = "".join(
        f'<path d="M70 {y(v):.1f}H590" stroke="#ddd5c3"/>{words(62.0, y(v) + 5.0, f"{v:.0f}", "end")}'
        for v in np.arange(0.0, top + 1.0, 5.0)
    )
    ticks = "".join(words(x(a), 322.0, str(a)) for a in range(6, ARROWS + 1, 6))
    parts = [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 640 360" font-family="sans-serif" font-size="14" '
        'fill="#17252e"><rect width="640" height="360" fill="#fbf8f1"/>',
        grid, ticks, line(hand, "#9a6b1f"), line(program, "#1f5f74"),
        words(330.0, 346.0, "arrows shot"), words(70.0, 24.0, "RMS error at the farthest distance, cm", "start"),
        words(586.0, y(hand[ARROWS]) - 10.0, "by hand", "end"),
        words(586.0, y(program[ARROWS]) + 24.0, "by the program", "end"), "</svg>\n",
    ]  # fmt: skip
    return "".join(parts)


def main(bows: int = BOWS, wider_bows: int = WIDER_BOWS, drawn: str = "") -> None:
    """Both populations, one after the other."""
    with ProcessPoolExecutor(max(os.cpu_count() or 1, 1)) as pool:
        mains = list(pool.map(one, range(bows), repeat(1.0), chunksize=8))
        print(table(f"{bows} bows drawn from the priors", mains), flush=True)
        if drawn:
            Path(drawn).write_text(figure(mains))
        for day_mrad in DAYS_MRAD:
            days = list(pool.map(one, range(bows), repeat(1.0), repeat(day_mrad), chunksize=8))
            print(table(f"{bows} bows drawn from the priors, days of {day_mrad:g} mrad", days), flush=True)
        wide = list(pool.map(one, range(bows, bows + wider_bows), repeat(WIDER), chunksize=8))
        print(table(f"{wider_bows} bows drawn from priors {WIDER:g} times wider", wide), flush=True)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:3]), *sys.argv[3:4])
