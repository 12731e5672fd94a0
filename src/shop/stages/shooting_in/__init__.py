"""Shooting in: shots as facts, suspects, and the next act."""
