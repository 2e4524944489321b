"""Chains built and evaluated for tests, and their faces as polygons."""

from functools import cache

import numpy as np
import shapely

from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.outline import flatten
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.work.edits import with_rule
from under_lattice.work.model import Design, Sheet, Work

SHEET = Sheet(width=324, height=322)


def evaluated(*rules, sheet=SHEET, evaluator=None):
    """The result of one chain; ids are ``floor-`` and the handle."""
    return (evaluator or Evaluator()).chain(chain("Floor", *rules), sheet)


def work_of(*rules, sheet=SHEET):
    return Work(design=Design(name="Trial", sheet=sheet, layers=(chain("Floor", *rules),)))


def last_stage(*rules, sheet=SHEET):
    result = evaluated(*rules, sheet=sheet)
    assert not result.problems, result.problems
    return result.last.stage


def tiles(result, steps=24):
    """Each mark as a polygon (N,), and the copy it belongs to (N,)."""
    marks = Evaluator().marks(result.last.stage, result.known)
    flat = [flatten(f.verbs, f.points, steps)[0] for f in marks.families]
    rings = [apply(x, flat[f][v]) for x, f, v in zip(marks.xform, marks.family, marks.variant, strict=True)]
    return np.array([shapely.Polygon(ring) for ring in rings]), marks.copy


def centres(stage):
    return stage.xform[..., 2]


@cache
def floor_alone():
    """The demo work “Entrance floor” with its floor only, which covers the sheet, and nothing kept of it."""
    design = demo().design
    floor = with_rule(design, "floor", "floor-lattice", lambda rule: edited(rule, extent="covers the sheet", margin=0.0))
    return Work(design=design.model_copy(update={"layers": (floor.chain("floor"),), "main": ""}))
