"""Tests of core/printing."""
