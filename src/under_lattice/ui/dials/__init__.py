"""Dials: one editor for each declared kind."""
