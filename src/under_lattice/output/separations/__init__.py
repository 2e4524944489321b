"""Separations: what each ink of a print covers."""

from under_lattice.output.separations.plates import Plates

__all__ = ["Plates"]
