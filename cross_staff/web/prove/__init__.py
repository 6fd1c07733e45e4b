"""The pages of the prove station."""
