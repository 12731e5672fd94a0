"""Taking a reading, writing a mark, keeping a curve."""
