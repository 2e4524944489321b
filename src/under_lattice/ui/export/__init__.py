"""The export page, what it shows before it writes, and the line of exports that wait."""
