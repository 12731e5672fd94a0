"""Before anything is loosened: readings, and marks of how the bow is set."""
