"""The window in which a plotter draws."""
