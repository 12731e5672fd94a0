"""Arrows put together from parts, and sets of them sorted by mass and spine."""
