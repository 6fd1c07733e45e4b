"""Tests of core/estimation."""
