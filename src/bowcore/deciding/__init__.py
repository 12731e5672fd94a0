"""What to do: the question, weighing, the search, reasons in words, what is left to decide."""
