"""Tests of web/handover."""
