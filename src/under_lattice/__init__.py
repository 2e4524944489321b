"""Under Lattice: geometric patterns from one simple shape, repeated by rules."""

__version__ = "0.1.0"
