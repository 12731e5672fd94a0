"""Readings, plans and press cycles until every number is inside."""
