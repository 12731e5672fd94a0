"""The steps of a job, each by its name in the core: its actions, forms, screens and templates."""
