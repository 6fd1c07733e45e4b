"""Sheets at true scale, as finished lengths."""
