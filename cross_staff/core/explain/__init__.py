"""Small live explanations: what one thing does to another, with the numbers of the rig in hand."""
