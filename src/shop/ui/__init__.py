"""Layout and components of every screen; knows no app."""
