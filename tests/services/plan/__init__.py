"""Tests of services/plan."""
