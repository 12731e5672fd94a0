"""What is done to a job wherever it is."""
