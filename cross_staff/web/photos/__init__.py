"""The photo bench: what is measured on photos, and where it goes."""
