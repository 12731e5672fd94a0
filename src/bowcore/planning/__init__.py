"""What to turn: the moves that are allowed, the search for the smallest one, and it in words."""
