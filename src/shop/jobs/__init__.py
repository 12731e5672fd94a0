"""A job: what was asked for, what was seen, why it waits."""
