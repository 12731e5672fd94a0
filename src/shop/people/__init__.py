"""The shop's people: invited, given a role, let in again, sent away."""
