"""The home screen: every open job, and finding anything."""
