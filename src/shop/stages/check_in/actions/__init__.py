"""Checking a bow in, and changing what was agreed."""
