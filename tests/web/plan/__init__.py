"""Tests of web/plan."""
