"""Quick calculators, without a rig."""
