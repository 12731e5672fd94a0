"""The book of models."""
