"""Level: axes and vials, screws and what a turn does, methods, what is left and what it costs."""
