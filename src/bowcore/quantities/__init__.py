"""What is measured, between which points, in which unit, and how people say it."""
