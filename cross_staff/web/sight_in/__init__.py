"""Sight in: ends, shots, files."""
