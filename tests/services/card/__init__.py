"""Tests of services/card."""
