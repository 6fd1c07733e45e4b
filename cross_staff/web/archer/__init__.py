"""The archer's own page: one rig by a signed link, and where such links are made and ended."""
