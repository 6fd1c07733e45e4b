"""The practice bench: exercises, rigs to learn on, what a practice bow answers, and how it went."""
