"""What the window shows: the open work with its undo, and what was opened lately."""
