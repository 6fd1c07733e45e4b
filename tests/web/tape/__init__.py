"""Tests of web/tape."""
