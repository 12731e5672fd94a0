"""The set and its parts, as they arrive."""
