"""Pages and JSON interface."""
