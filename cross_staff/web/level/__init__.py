"""Level: the page, readings, setup, photo, record, cost."""
