"""String sets: ordered, here, fitted, spare; and how true each maker's lengths have been."""
