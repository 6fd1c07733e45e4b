"""Tests of services/level."""
