"""The use cases of the station level: what is written down, and what its pages show."""
