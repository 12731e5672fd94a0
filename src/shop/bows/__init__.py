"""One customer's bow and the parts on it."""
