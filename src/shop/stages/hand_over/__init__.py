"""Handing a bow over: what stands in its way, and the signature."""
