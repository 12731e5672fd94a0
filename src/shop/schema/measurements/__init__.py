"""Readings, marks and curves."""
