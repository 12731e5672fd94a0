"""What every record rests on: deeds (one accepted act each) and append-only tables."""
