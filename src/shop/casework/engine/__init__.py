"""Twins, priors and fits: computed once, kept as caches, in background tasks where they are slow."""
