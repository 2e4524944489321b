"""What is done to the open work by commands: to its chain, its layers, single copies, with the book, the clipboard, the desktop."""
