"""Tests of web/card."""
