"""What every station knows of a rig: its card, its sight, its arrows, what made a result old, the bench log."""
