"""Stand-ins for the tools on the bench and for a string maker; they measure a simulated bow."""
