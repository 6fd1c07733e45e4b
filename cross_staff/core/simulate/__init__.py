"""Virtual rigs and archers for demo data and tests; every generator is passed in."""
