"""Tests of services/shop."""
