"""The steps of a job, one module each, and the course that walks them."""
