"""The prove station: its lines, its tapes, its pages."""
