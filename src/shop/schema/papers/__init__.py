"""Bows handed over."""
