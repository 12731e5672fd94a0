"""What is printed: the hand-over sheet."""
