"""String sets: ordered, confirmed, here, fitted, spare; and how true each maker has been."""
