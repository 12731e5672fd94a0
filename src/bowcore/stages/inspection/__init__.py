"""Inspection, place by place."""
