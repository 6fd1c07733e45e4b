"""Tests of core/level."""
