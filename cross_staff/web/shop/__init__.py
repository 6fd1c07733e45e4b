"""Pages of the shop itself: its door, its people, visits, who wrote what."""
