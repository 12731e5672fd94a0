"""Bows and their parts."""
