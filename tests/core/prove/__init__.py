"""Tests of core/prove."""
