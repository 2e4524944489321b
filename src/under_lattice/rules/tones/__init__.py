"""Finishes that change each pixel's colour by itself, one file for each kind."""
