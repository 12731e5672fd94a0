"""Which shop is being worked for. Rows of another one are not seen."""
