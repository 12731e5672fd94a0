"""What the shop needs of tools and of string makers: interfaces, and a registry of what is there."""
