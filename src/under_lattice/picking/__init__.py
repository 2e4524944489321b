"""What is seen at a point of the sheet."""
