"""Demo data: Hollin Quarry and its Ledge Round, made with the application's own core."""
