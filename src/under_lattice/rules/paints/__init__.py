"""Rules that paint: inks and their ramps."""
