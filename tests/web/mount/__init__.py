"""Tests of web/mount."""
