"""Readings as evidence: repeats, bands and verdicts, and how long a reading stays true."""
