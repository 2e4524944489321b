"""Many works of one: kept versions, palettes, rows of numbers, settings given in words."""
