"""Tests of web/sight_in."""
