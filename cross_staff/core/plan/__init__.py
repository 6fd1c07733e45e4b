"""The days of the shop: which sessions a rig still needs, and when each can be."""
