"""The window: widgets, handles and workers; it edits the work and shows the pixels, and computes nothing of the pattern."""
