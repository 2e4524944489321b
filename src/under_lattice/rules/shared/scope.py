"""Scopes: what of the copies above is taken as one."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.pattern.stage import Stage

ALL = "all"
EACH = "each"
OTHERS = ((EACH, "each shape"), (ALL, "all so far"))


def scope_stage(scope: str, above: Stage) -> Stage:
    """Return the stage in whose place a scope lives: all so far, each shape, or each copy of a rule, by its id."""
    if scope == ALL:
        return above
    root = above
    while root.above is not None:
        if root.rule == scope:
            return root.above
        root = root.above
    return root if scope == EACH else above


def scope_frames(scope: Stage, above: Stage) -> Array:
    """Maps (n, 2, 3) from the own place of each copy above to the place of its scope."""
    index, stage = np.arange(above.n), above
    while stage is not scope and stage.above is not None:
        index, stage = stage.parent[index], stage.above
    return np.asarray(stage.xform[index])
