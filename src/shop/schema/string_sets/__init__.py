"""String sets and their components."""
