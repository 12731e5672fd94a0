"""What is known of a job: its facts, takes, shots and tears, and whether an entry is plausible."""
