"""The card: its form, arrows, sight and the library of sights, revisions."""
