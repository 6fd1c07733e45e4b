"""Prepare: the bench sheet."""
