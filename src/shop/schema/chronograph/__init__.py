"""Speeds of arrows."""
