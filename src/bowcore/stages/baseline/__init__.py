"""The baseline before anything is loosened."""
