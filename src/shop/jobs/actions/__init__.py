"""What is done to a job as a whole."""
