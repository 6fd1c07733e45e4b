"""Tests of web/shared."""
