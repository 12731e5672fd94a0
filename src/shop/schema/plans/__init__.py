"""Plans that were accepted."""
