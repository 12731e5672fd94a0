"""How much each quantity moves for one step of each adjuster, from the twin or in closed form."""
