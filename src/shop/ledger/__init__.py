"""What was done to a bow: press cycles and adjustments, append-only."""
