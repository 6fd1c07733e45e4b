"""Tape: the fit of marks and groups, tapes, pins, holds, booklets, what an arrow change carries over."""
