"""Freeze: the copies of a layer as separate shapes in a new layer, while the live layer stays."""

from __future__ import annotations

import numpy as np

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.declare.shape_list import SHAPES_MOST, Laid, Row, text_of_shapes
from under_lattice.geometry.affine import IDENTITY, Array, apply, compose, inverse
from under_lattice.pattern.marks import Coat, Picture, Plate
from under_lattice.rules.made import motif_of_shapes
from under_lattice.work.edits import free_handle
from under_lattice.work.grouping import put_before
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, new_id, slug


def frozen_text(picture: Picture) -> str:
    """Return all shapes of a picture as they lie on the sheet, coat by coat of each; a picture as its mean colour.

    Raises
    ------
    InputError
        When there are none, or too many, or they are filled with another layer.
    """
    if any(isinstance(coat.paint, Plate) for coat in picture.coats):
        raise InputError("shapes that are filled with another layer cannot be frozen; trim that layer by them instead")
    marks = picture.marks
    count = int((marks.variant >= 0).sum()) * len(picture.coats)
    if not 0 < count <= SHAPES_MOST:
        raise InputError(f"there are {count:,} shapes; from 1 to {SHAPES_MOST:,} can be frozen")
    n = marks.count
    coats = [
        (np.broadcast_to(coat.fill, (n, 4)), np.broadcast_to(coat.stroke, (n, 4)), np.broadcast_to(coat.width, n), coat)
        for coat in picture.coats
    ]
    rows: list[Row] = []
    for k in np.flatnonzero(marks.variant >= 0):
        family = marks.families[marks.family[k]]
        points = apply(marks.xform[k], family.points[marks.variant[k]])
        for fill, stroke, width, coat in coats:
            if fill[k, 3] or stroke[k, 3]:
                laid = _laid(coat, marks.xform[k], int(k)) if fill[k, 3] else None
                rounded = "round" in (coat.cap, coat.join)
                rows.append(Row(_flat(fill[k], coat), stroke[k], float(width[k]), (family.verbs, points), laid, rounded))
    if not rows:
        raise InputError("nothing here has a fill or a stroke to be frozen with")
    return text_of_shapes(rows)


def _laid(coat: Coat, xform: Array, k: int) -> Laid | None:
    """The ramp of a coat as it lies under one mark."""
    if not isinstance(coat.paint, Ramp):
        return None
    place = xform if coat.paint.of_marks else IDENTITY
    if coat.seat is not None:
        place = coat.seat[k if len(coat.seat) > 1 else 0]
    return Laid(coat.paint, compose(place, inverse(coat.paint.to_ramp)))


def _flat(fill: Array, coat: Coat) -> Array:
    """A fill as one colour, where it is a picture."""
    if not fill[3] or not isinstance(coat.paint, Texture):
        return fill
    mean = coat.paint.levels[-1][0, 0] * 255
    mean = mean * [*[255 / max(float(mean[3]), 1.0)] * 3, float(fill[3]) / 255]
    return np.asarray(np.rint(np.clip(mean, 0, 255)), np.uint8)


def with_frozen(design: Design, layer_id: str, text: str) -> tuple[Design, str]:
    """Return the design with frozen shapes as a layer in front of the live one, which is hidden; and the id of the new layer."""
    live = design.chain(layer_id)
    name = f"{live.name}, frozen"[:60]
    handle = free_handle(slug(name), (one.handle for one in design.all_layers()))
    motif = edited(motif_of_shapes(text), id=new_id())
    chain = Chain(id=new_id(), handle=handle, name=name, rules=(motif,), end=edited(live.end, id=new_id()))
    return put_before(design, layer_id, chain, edited(live, hidden=True)), chain.id
