"""The card: what two builds of one bow come to."""
