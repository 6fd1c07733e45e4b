"""Measuring on photographs: straightening, lengths and angles with their uncertainty, bubbles, holes."""
