"""Tests of web/bench."""
