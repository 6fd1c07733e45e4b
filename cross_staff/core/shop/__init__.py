"""What belongs to the shop and not to a rig: its people, and how often may be tried at its door."""
