"""The book: published numbers of bow models."""
