"""What is believed of one bow, and how its readings and changes teach it."""
