"""Colours, ramps, pictures as paint, and the names of blend modes."""
