"""Statistics alone: groups of arrows, filters."""
