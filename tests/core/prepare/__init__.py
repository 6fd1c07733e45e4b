"""Tests of core/prepare."""
