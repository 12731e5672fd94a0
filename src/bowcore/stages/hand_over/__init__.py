"""What keeps a bow from its owner, and the hand-over."""
