"""How an arrow flies and what the line of sight has to do with it: knows no bow, no sight, no station."""
