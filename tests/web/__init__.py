"""Tests of this floor."""
