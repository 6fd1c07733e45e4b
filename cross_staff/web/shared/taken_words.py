"""Where a value came from, beside its field and in the log: as long as it still says what an instrument gave."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from cross_staff.core.rig.taken import Taken
from cross_staff.web.shared.moments import local_time

_FIELDS = {"pitch": "tilt", "vial": "bubble"}


def stands_in(text: str, typed: str) -> bool:
    """Whether a field still says what was taken, alone or as one of a list."""
    return text == typed.strip() or text in typed.replace(",", " ").replace(";", " ").split()


def beside_fields(takens: Iterable[Taken], typed: Mapping[str, str]) -> dict[str, str]:
    """For each field that says what was taken: by which instrument, when; of a list how many of it.

    Args: takens, those of the station, newest first, that belong to no entry of a log; typed, the form.
    """
    found: dict[str, list[Taken]] = {}
    for each in takens:
        if stands_in(each.text, typed.get(each.field, "")):
            found.setdefault(each.field, []).append(each)
    return {
        name: f"{f'{len(of)} of them ' if len(of) > 1 else ''}by {of[0].instrument}, {local_time(of[0].taken)}"
        for name, of in found.items()
    }


def by_entry(takens: Iterable[Taken]) -> dict[str, str]:
    """For each entry of a log: what of it came from which instrument."""
    found: dict[str, dict[str, str]] = {}
    for each in takens:
        if each.entry:
            name = each.field.rsplit("-", 1)[-1]
            found.setdefault(each.entry, {}).setdefault(_FIELDS.get(name, name), each.instrument)
    return {entry: ", ".join(f"{what} by {who}" for what, who in of.items()) for entry, of in found.items()}
