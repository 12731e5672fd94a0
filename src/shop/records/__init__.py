"""The record of one bow or of a whole shop as a file: written, and read by another installation."""
