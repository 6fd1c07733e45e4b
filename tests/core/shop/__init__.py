"""Tests of core/shop."""
