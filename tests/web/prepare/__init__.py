"""Tests of web/prepare."""
