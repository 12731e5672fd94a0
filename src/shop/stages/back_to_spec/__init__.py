"""What to turn on a bow, why, and what else would work; the bow as its twin sees it."""
