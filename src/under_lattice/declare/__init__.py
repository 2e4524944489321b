"""Declarations: what kinds of dial there are, and how each is checked, read and said."""
