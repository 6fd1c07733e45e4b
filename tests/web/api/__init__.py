"""Tests of the calculators."""
