"""Tests of services/sight_in."""
