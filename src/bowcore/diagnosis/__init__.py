"""From shots to causes: what a bow that does not shoot straight is told by its tears and groups."""
