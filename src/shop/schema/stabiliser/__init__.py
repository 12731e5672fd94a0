"""How the pin floats."""
