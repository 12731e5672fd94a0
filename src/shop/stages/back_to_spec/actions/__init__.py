"""Accepting a plan, and choosing another policy for one job."""
