"""The use cases of the station sight_in: what is written down, and what its pages show."""
