"""The bench: the list of rigs, the shop's door, a rig in trouble."""
