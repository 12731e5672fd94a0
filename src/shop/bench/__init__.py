"""The screens of a job, and the acts that change it."""
