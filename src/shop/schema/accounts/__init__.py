"""People, shops, logins."""
