"""Geometry of repetition: outlines, stages, questions to numbers; no Qt, no files."""
