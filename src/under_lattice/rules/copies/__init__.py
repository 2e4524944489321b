"""Rules that act on copies and make none of the plain kind: moved, left out, combined, trimmed, bent."""
