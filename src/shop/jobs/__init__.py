"""A job: what was asked for, where it stands, why it waits, what has happened."""
