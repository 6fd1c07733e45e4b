"""Tests of core/plan."""
