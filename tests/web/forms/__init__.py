"""Tests of web/forms."""
