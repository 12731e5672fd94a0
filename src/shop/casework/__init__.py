"""A job: what was asked for, where it is, why it waits, what has happened."""
