"""The card that goes with a rig when it is handed over."""
