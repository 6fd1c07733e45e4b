"""The day on which the scenario stands: what ships is moved from it to today."""

from datetime import date

MADE_ON = date(2026, 11, 24)
