"""What was read on a bow: sheets and readings, append-only."""
