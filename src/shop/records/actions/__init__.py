"""Reads records in: at once, or in the background."""
