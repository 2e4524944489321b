"""How the window looks: tokens, style sheet, glyphs, threads and beads."""
