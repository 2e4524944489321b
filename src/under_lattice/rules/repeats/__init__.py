"""Rules that make copies, one file for each kind, with their handles where those are many."""
