"""The arrow against this bow."""
