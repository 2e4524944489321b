"""Finish rules: what is done to the pixels of all that stands above."""
