"""What a work repeats by: the translations that bring it onto itself, the cell they make, and the seams of that cell.

`find_cell` says of a design what its smallest upright cell is, or why it has none; `cell_scene` is that cell as a page of its own.
"""
