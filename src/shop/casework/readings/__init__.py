"""Readings, marks and curves: what was measured or written down, append-only."""
