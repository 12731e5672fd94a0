"""The core's view of a job, and the advice it gave."""
