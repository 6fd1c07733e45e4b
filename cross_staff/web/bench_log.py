"""The log of a station of the bench, newest first, in words."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cross_staff.core.mount.station import STEPS
from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.web import prepare_words
from cross_staff.web.render import local_time
from cross_staff.web.units import Units

STEP_WORDS = {"done": "done", "skipped": "skipped", "wrong": "not so"}
_STEPS = {step.key: step.say for step in STEPS}


def log_rows(log: Sequence[BenchEntry], units: Units) -> list[dict[str, Any]]:
    """Every entry with what it says; the newest of each key can be taken back."""
    newest = {entries[-1].entry_id for entries in standing(log).values()}
    return [
        {
            "key": entry.key,
            "when": local_time(entry.entered),
            "name": _name(entry),
            "value": "taken back" if entry.removed else _value(entry, units),
            "after": prepare_words.TRIED.get(entry.after, "") if entry.after else "",
            "note": entry.note,
            "revision": entry.revision,
            "undo": entry.entry_id in newest and not entry.removed,
        }
        for entry in reversed(log)
    ]


def _name(entry: BenchEntry) -> str:
    if entry.key == OVERRIDE:
        return "Gate opened with a reason"
    return CHECKS[entry.key].name if entry.key in CHECKS else _STEPS.get(entry.key, entry.key)


def _value(entry: BenchEntry, units: Units) -> str:
    if entry.key in CHECKS:
        return prepare_words.value(CHECKS[entry.key], entry, units)
    return STEP_WORDS.get(entry.choice, "")
