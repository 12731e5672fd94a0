"""Whose bows these are."""
