"""The use cases of the station prepare: what is written down, and what its pages show."""
