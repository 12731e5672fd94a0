"""Customers and bows, changed."""
