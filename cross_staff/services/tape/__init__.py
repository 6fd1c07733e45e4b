"""The use cases of the station tape: what is written down, and what its pages show."""
