"""The use cases of the station mount: what is written down, and what its pages show."""
