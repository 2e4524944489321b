"""Stacking round and round: in a closed ring each copy lies over the one before, and the last under the first."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely

from under_lattice.core.errors import RuleRefused
from under_lattice.geometry.affine import Array, apply, inverse
from under_lattice.pattern.clipping import Clipped, area_of
from under_lattice.pattern.known import Known
from under_lattice.pattern.marks import draw
from under_lattice.pattern.stage import Stage

RING_MOST = 400


def laid_round(stage: Stage, above: Stage, known: Known) -> Stage:
    """Return a ring whose last copies are cut away where the first ones lie over them.

    Copies are laid one over the other, so only the last ones would lie wrongly over the first: those that are nearer to a first
    copy by going on round the ring than by going back. Where copies from more than half the ring overlap no order is right.

    Raises
    ------
    RuleRefused
        When the ring has too many copies, or what it repeats draws no closed outline.
    """
    count = int(stage.key[:, 1].max()) + 1
    if count > RING_MOST:
        raise RuleRefused(f"at most {RING_MOST} copies can lie round and round; there are {count:,}")
    first_of = [int(np.argmax(stage.key[:, 1] == k)) for k in range(count)]
    whole = _drawn(above, known)
    ring = [shapely.transform(whole, lambda points, at=stage.step[k]: apply(at, points)) for k in first_of]  # type: ignore[misc]
    over: list[Any] = []
    for k in range(count):
        hiding = [ring[j] for j in range(k) if j + count - k < count / 2 and ring[j].intersects(ring[k])]
        over.append(shapely.union_all(hiding) if hiding else None)
    regions = tuple(
        None if over[k] is None else _beside(over[k], stage.xform[copy]) for copy, k in enumerate(stage.key[:, 1].tolist())
    )
    return replace(stage, shape=Clipped(stage.shape, stage.rule, regions))


def _drawn(above: Stage, known: Known) -> Any:
    """What is covered by all that stands above, in its place."""
    marks = draw(above, known)
    parts = []
    for family, variant, xform in zip(marks.family, marks.variant, marks.xform, strict=True):
        if variant >= 0:
            own, _ = area_of(marks.families[family], int(variant))
            parts.append(shapely.transform(own, lambda points, at=xform: apply(at, points)))  # type: ignore[misc]
    whole: Any = shapely.union_all(parts) if parts else shapely.Polygon()
    if whole.is_empty:
        raise RuleRefused("what stands above draws no closed outline that could lie over another")
    return whole


def _beside(hiding: Any, xform: Array) -> Any:
    """All but what hides a copy, in the copy's own place."""
    back = inverse(xform)
    own: Any = shapely.transform(hiding, lambda points: apply(back, points))
    x0, y0, x1, y1 = own.bounds
    far = 100 * max(x1 - x0, y1 - y0, 1e-9)
    return shapely.box(x0 - far, y0 - far, x1 + far, y1 + far).difference(own)
