"""The JSON calculators under /api/v1: stateless, the same core as the pages."""
