"""Who works here, in which role, and the shop's own choices."""
