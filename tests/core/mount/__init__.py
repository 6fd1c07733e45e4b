"""Tests of core/mount."""
