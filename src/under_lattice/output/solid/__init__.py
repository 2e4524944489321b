"""Raised bodies: closed outlines raised to a height, on a plate or through it, without a gap anywhere in their skin.

A library (manifold3d) does the solid geometry, another (trimesh) writes the files.
"""

from under_lattice.output.solid.raised import Obj, Stl, ThreeMf

__all__ = ["Obj", "Stl", "ThreeMf"]
