"""Sets of arrows."""
