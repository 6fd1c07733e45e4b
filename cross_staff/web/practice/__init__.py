"""The practice bench: exercises, what a practice bow answers, how it went."""
