"""Tests of the pages of web/prove."""
