"""Old parts off, new ones on: the press, its gate, the tug test."""
