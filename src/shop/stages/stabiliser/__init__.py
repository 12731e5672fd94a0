"""How the pin floats with which bars and weights."""
