"""Proving: whether a printed tape is true, what drifts sideways, what two groups say, which joint moved."""
