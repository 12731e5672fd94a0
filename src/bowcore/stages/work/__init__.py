"""Work by hand that is written down."""
