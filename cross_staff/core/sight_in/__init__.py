"""Sight in: procedures of each kind of sight, what the arrows say, what to move."""
