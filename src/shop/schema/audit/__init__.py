"""What every record rests on: events (one accepted act each) and append-only tables."""
