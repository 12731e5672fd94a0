"""Settings by where Fennock runs: demo, test, production; base holds what they share."""
