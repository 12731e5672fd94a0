"""Check in."""
