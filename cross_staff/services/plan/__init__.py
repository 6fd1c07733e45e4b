"""The days of the shop."""
