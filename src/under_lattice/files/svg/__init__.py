"""Drawings of others: SVG files read as shapes."""
