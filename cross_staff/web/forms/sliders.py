"""Numbers that sliders send."""

from __future__ import annotations

import math


def slider_number(text: str, usual: float, most: float) -> float:
    """A slider's number, within its ends; the usual one for anything else."""
    try:
        value = float(text)
    except ValueError:
        return usual
    return max(-most, min(most, value)) if math.isfinite(value) else usual
