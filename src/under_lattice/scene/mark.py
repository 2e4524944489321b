"""What is drawn, told by a short hash."""

from __future__ import annotations

import hashlib

import numpy as np

from under_lattice.scene.tree import Scene, leaves


def mark_of(scene: Scene) -> str:
    """Return a short hash of what is drawn."""
    told = hashlib.sha1(repr((scene.width, scene.height, scene.background)).encode(), usedforsecurity=False)
    for layer in leaves(scene.layers):
        marks = layer.picture.marks
        for part in (marks.xform, *(family.points for family in marks.families), *(coat.fill for coat in layer.picture.coats)):
            told.update(np.ascontiguousarray(part).tobytes())
    return told.hexdigest()[:6]
