"""The use cases of the station card: what is written down, and what its pages show."""
