"""The stages of a job, each with its step, what it needs, its advice and its words."""
