"""Plane geometry on arrays: maps, outlines, bodies, paths, tilings, symmetry groups, chance."""
