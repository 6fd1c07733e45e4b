"""Tests of core/simulate."""
