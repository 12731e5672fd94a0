"""Check-in: customer, bow, what is asked for, when it is due."""
