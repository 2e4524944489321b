"""What knows copies: stages, lazy shapes, questions to numbers, marks."""
