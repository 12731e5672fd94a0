"""Jobs and holds."""
