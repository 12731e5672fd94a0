"""What can be turned or set on a bow: one module for each kind."""
