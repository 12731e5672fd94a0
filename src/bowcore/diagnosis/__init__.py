"""From shots to causes: what tears and groups say of a bow that does not shoot straight."""
