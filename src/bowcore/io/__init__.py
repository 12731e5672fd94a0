"""The edges of the core: JSON in, JSON out, each typed once; and the command line."""
