"""Values in, SVG out: the same drawing wherever a number meets a band."""
