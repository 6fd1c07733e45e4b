"""Rigs, sight models and instruments as files: written, read, checked, taken in."""
