"""Shots, suspects, sheets laid flat."""
