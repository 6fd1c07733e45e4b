"""Tests of services/mount."""
