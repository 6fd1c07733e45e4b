"""Tests of core/ballistics."""
