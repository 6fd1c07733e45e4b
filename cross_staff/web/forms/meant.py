"""What a form says of its new values: that they were measured again, mistyped before, or that the bow was changed."""

from __future__ import annotations

from collections.abc import Mapping

from cross_staff.core.rig.correction import Meaning
from cross_staff.core.rig.staleness import Said
from cross_staff.web.forms.known import MEANT


def said_in(typed: Mapping[str, str]) -> Said:
    """What was answered: the meaning of each cause that was asked about."""
    answers = ((name.removeprefix(MEANT), text) for name, text in typed.items() if name.startswith(MEANT))
    return Said(meant=tuple((key, text) for key, text in answers if text in set(Meaning)))
