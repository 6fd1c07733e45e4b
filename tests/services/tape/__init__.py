"""Tests of services/tape."""
