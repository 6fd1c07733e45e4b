"""Tape: marks and groups, and the pages at the tape."""
