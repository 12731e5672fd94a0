"""Findings and photographs."""
