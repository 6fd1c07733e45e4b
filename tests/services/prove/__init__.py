"""Tests of services/prove."""
