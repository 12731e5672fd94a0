"""Work done by hand, written down."""
