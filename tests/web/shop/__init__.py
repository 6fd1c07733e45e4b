"""Tests of web/shop."""
