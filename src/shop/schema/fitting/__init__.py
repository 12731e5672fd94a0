"""What is on a bow."""
