"""Tests of core/sight_in."""
