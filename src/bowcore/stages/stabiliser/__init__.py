"""Bars and weights: what the pin did with each, and what to try next."""
