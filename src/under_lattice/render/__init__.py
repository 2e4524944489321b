"""Scene, painter and blending: from marks with coats to pixels; no Qt."""
