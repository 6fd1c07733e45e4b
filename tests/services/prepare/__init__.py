"""Tests of services/prepare."""
