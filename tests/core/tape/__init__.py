"""Tests of core/tape."""
