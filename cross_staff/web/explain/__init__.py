"""Explanations: a picture, its sliders, and what it says, for a technician and his customer."""
