"""Shots, tears and groups, what made them, and what comes next."""
