"""What a Lattice says of itself: overlaps, slivers, tiles that do not fit, bare parts of the sheet, the cell that repeats."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from typing import Any

import numpy as np
import shapely

from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, apply, turns
from under_lattice.geometry.neighbours import Nearest
from under_lattice.pattern.ask import rest
from under_lattice.pattern.stage import Stage
from under_lattice.rules.findings import SHOWN_MOST, Cure, Placed, Site, Warn
from under_lattice.rules.repeats.lattice_net import AS_TILES, FORM_OF_SIDES, LatticeFound, Net, touching_pitches
from under_lattice.rules.surroundings import Surroundings, tidy

TOUCH = 1e-6
MEANT = 0.2  # of a copy's size: a deeper overlap is meant
CONVEX = 0.999  # of its hull, or of its cell, that a body fills which is convex, or tiles
BARE_LEAST = 0.03  # of a cell that is worth a word
PLAIN_FORMS = ("hexagons on points", "hexagons on flats", "squares")
SLIVER = 0.02  # of the pitch: a gap as thin as this is meant to be none
STEPS_MOST = 2000  # copies that tell how far apart they are
SAMPLES = 26  # places across the sheet, and down it, that are looked at
BARE = 1.5  # so many distances of neighbours without a copy is bare
MOSTLY = 0.6  # of the sheet: what covers less is a figure on it, not a cover
LOOKED_MOST = 20_000  # copies among which bare parts are looked for


def lattice_warnings(rule: Any, placed: Placed, site: Site) -> Iterator[Warn]:
    """Yield what needs attention of a Lattice: of the last one its gaps and what it leaves bare, of each whether tiles fit."""
    if site.on_net is rule:
        yield from _gap(rule, placed, site)
        yield from _bare(rule, site)
    if site.on[0].tiles and rule.form != AS_TILES:
        cure = Cure(rule.id, "form", AS_TILES, "Lay them as they lie")
        yield Warn("the tiles of the motif do not fit each other on this lattice", rule.id, cure)


def _gap(rule: Any, placed: Placed, site: Site) -> Iterator[Warn]:
    """An overlap of neighbours, or a gap so thin that it is left over, not meant."""
    gap, unit = site.gap, site.unit
    if gap is None or not site.alike:
        return
    size = float(np.ptp(placed.stage.body_ring, 0).min())
    if gap < -TOUCH:
        free = rule.spacing == "free"
        if gap > -MEANT * size if free else rest(rule.gap) >= 0:  # what is deeper, or asked for by a gap below zero, is meant
            cure = Cure(rule.id, "spacing", "touching", "Set spacing to touching") if free else None
            yield Warn(f"overlap {-gap:.2f} {unit}", rule.id, cure)
    elif abs(gap) <= TOUCH and site.corners:
        yield from _corners_only(rule, placed)
    elif rule.spacing == "free" and TOUCH < gap < SLIVER * placed.stage.found.values["pitch"]:
        cure = Cure(rule.id, "spacing", "touching", "Set spacing to touching")
        yield Warn(f"a gap of {short(gap)} {unit} is left between neighbours", rule.id, cure)


def _corners_only(rule: Any, placed: Placed) -> Iterator[Warn]:
    """Convex bodies that meet at corners and leave much bare, though turned, or laid otherwise, they would tile."""
    assert placed.above is not None
    if placed.above.n > 1:
        return
    bodies = rule.bodies(placed.above, False)
    found = placed.stage.found
    assert isinstance(found, LatticeFound)
    net, area = found.net, float(shapely.area(shapely.polygons(bodies)).sum())
    if area < CONVEX * float(shapely.convex_hull(shapely.polygons(bodies))[0].area):
        return
    cell = abs(float(net.a[0, 0] * net.b[0, 1] - net.a[0, 1] * net.b[0, 0]))
    bare = 1 - area / cell

    def tiles(form: str, turn: float) -> bool:
        turned = apply(turns(turn, bodies[0].mean(0)), bodies)
        pitches = touching_pitches(form, turned, 0.0, 50.0, False, (rule.angle, rule.row_angle))
        return area > CONVEX * float(np.prod(pitches)) > 0

    forms = [form for form in PLAIN_FORMS if form != rule.form and tiles(form, 0.0)]
    ways = [turn for turn in (30.0, 45.0, 90.0) if rule.form in PLAIN_FORMS and tiles(rule.form, turn)]
    cure = Cure(rule.id, "form", forms[0], f"Set form to {forms[0]}") if forms else None
    if cure is None and ways:
        cure = Cure(rule.id, "turn_each", rule.turn_each + ways[0], f"Turn each by {short(ways[0])}°")
    if cure is not None and bare > BARE_LEAST:
        yield Warn(f"touches at corners only, {round(100 * bare)} % bare", rule.id, cure)


def _bare(rule: Any, site: Site) -> Iterator[Warn]:
    """Parts of the sheet without a copy, where copies cover most of it: often a count that is too small."""
    stage = site.end
    if rule.extent == "whole copies inside" and rule.margin < 0:  # it is meant to stay bare there
        return
    if not 12 <= stage.n <= LOOKED_MOST or not getattr(stage.shape, "alike", True):
        return
    middles = np.ascontiguousarray(stage.xform[..., 2])
    near = Nearest(middles)
    apart = near.away(middles[:STEPS_MOST], 2)[:, 1]
    step = float(np.median(apart[apart > TOUCH])) if (apart > TOUCH).any() else 0.0
    if step <= 0:
        return
    at = (np.arange(SAMPLES) + 0.5) / SAMPLES - 0.5
    places = np.stack(np.meshgrid(at * site.width, at * site.height), -1).reshape(-1, 2)
    away = near.away(places, 1)[:, 0]
    bare = np.asarray(away > BARE * step)
    if not bare.any() or (away <= step).mean() < MOSTLY:
        return
    cure = None
    if rule.extent != "covers the sheet":
        cure = Cure(rule.id, "extent", "covers the sheet", "Cover the sheet")
    half = np.array([site.width, site.height]) / SAMPLES / 2
    square = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * half
    rings = tuple(place + square for place in places[bare][:SHOWN_MOST])
    share, where = max(1, round(100 * float(bare.mean()))), _whereabouts(places[bare].mean(0), site)
    yield Warn(f"about {share} % of the sheet is bare, {where}", rule.id, cure, rings)


def _whereabouts(at: Array, site: Site) -> str:
    """Say where on the sheet a place is."""
    across = "" if abs(at[0]) < site.width / 8 else "left" if at[0] < 0 else "right"
    down = "" if abs(at[1]) < site.height / 8 else "top" if at[1] < 0 else "bottom"
    return " ".join(filter(None, (down, across))) or "all round"


def suggested_lattice(around: Surroundings) -> dict[str, Any]:
    """Return the form the motif suggests, and lengths in proportion to it; a small block where copies are spread already."""
    body = around.corners
    form = FORM_OF_SIDES.get(len(body), "squares") if body is not None else "squares"
    form = AS_TILES if around.tiles else form
    if form == "hexagons on points" and body is not None and np.ptp(body[:, 0]) > np.ptp(body[:, 1]) * 1.01:
        form = "hexagons on flats"
    changes: dict[str, Any] = {
        "form": form,
        "pitch": tidy(around.size),
        "row_pitch": tidy(around.size),
        "box_width": tidy(around.width * 0.8),
        "box_height": tidy(around.height * 0.8),
    }
    if around.spread:
        changes |= {"form": "squares", "extent": "by number", "columns": 2, "rows": 2}
    return changes


def lattice_cell(rule: Any, stage: Stage, net: Net) -> dict[str, Any]:
    """Return the smallest rectangle that repeats a Lattice, or its parallelogram with the smallest nearly right-angled cell."""
    a, b = net.a[0], net.b[0]
    if rule.form in ("two vectors", AS_TILES) and abs(float(a @ b)) > 1e-9:
        return {"kind": "parallelogram", "vectors": [a.tolist(), b.tolist()], "turn": rule.turn} | _near_rectangle(a, b)
    fraction = Fraction(float(net.fraction[0])).limit_denominator(60)
    lines = 2 if (not net.progressive and fraction.denominator > 1) else fraction.denominator
    wide, high = float(np.hypot(*a)), float(np.hypot(*b))
    if rule.form == "triangles":
        return {"kind": "rectangle", "width": 2 * wide, "height": 2 * high, "copies": 8, "turn": rule.turn}
    if net.columns:
        wide *= lines
    else:
        high *= lines
    return {"kind": "rectangle", "width": wide, "height": high, "copies": lines, "turn": rule.turn}


def _near_rectangle(a: Array, b: Array) -> dict[str, Any]:
    """The smallest nearly right-angled cell of whole steps, and how far its corner is from right, in parts of its side."""
    best: tuple[float, float, float] | None = None
    for rows in range(1, 9):
        along = float(rows * (b @ a) / (a @ a))
        miss = abs(along - round(along)) * float(np.hypot(*a))
        height = rows * abs(float(a[0] * b[1] - a[1] * b[0])) / float(np.hypot(*a))
        if best is None or miss < best[2] - 1e-9:
            best = (float(np.hypot(*a)), height, miss)
    assert best is not None
    return {"near_width": best[0], "near_height": best[1], "near_error": best[2]}
