"""Customers."""
