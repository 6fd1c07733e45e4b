"""Tests of core/card."""
