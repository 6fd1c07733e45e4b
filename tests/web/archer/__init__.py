"""Tests of web/archer."""
