"""The Django project: the shop's records and screens round the computing core."""
