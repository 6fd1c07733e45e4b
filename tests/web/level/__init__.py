"""Tests of web/level."""
