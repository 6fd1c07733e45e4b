"""Tests of core/rig."""
