"""Blank starts: one small chain for each family, drawn as bones on the first page."""

from __future__ import annotations

from dataclasses import dataclass

from under_lattice.core.units import convert
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules import Ellipse, Ink, Lattice, Polygon, Progression, Rosette, SeedHead, Split
from under_lattice.rules.base import Rule
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet, Work

PALETTE = ("#E6DCC6", "#5E8C86", "#22404A")
NATURAL = 36.0  # mm; a start is about a ninth of the sheet's shorter side


@dataclass(frozen=True)
class Start:
    """A blank start: its title, what it leads to, its rules, and lengths in parts of the natural size, by place and dial."""

    title: str
    words: str
    verb: str
    rules: tuple[Rule, ...]
    lengths: tuple[tuple[int, str, float], ...] = ((0, "size", 1.0),)


STARTS: dict[str, Start] = {
    "squares": Start(
        "Square grid", "rows, checks", "New square grid", (Polygon(sides=4, stands="on a flat"), Lattice(form="squares"))
    ),
    "hexagons": Start(
        "Hexagons", "honeycomb, cubes, rhombs", "New hexagon sheet", (Polygon(), Split(), Lattice(form="hexagons on points"))
    ),
    "triangles": Start(
        "Triangles",
        "alternate copies turned",
        "New triangle sheet",
        (Polygon(sides=3, measure="side", stands="on a flat"), Lattice(form="triangles")),
    ),
    "bricks": Start(
        "Bricks", "staggered rows", "New brick sheet", (Polygon(sides=4, stands="on a flat"), Lattice(form="staggered rows"))
    ),
    "half-drop": Start(
        "Half-drop",
        "dropped columns",
        "New half-drop sheet",
        (Polygon(sides=4, stands="on a flat"), Lattice(form="dropped columns")),
    ),
    "two-vectors": Start(
        "Two vectors",
        "any slanting lattice",
        "New slanting sheet",
        (Polygon(sides=8, stands="on a flat"), Lattice(form="two vectors")),
    ),
    "ring": Start(
        "Ring",
        "rosettes, dials, flowers",
        "New ring",
        (Ellipse(roundness=220.0), Rosette(count=16)),
        ((0, "width", 0.75), (1, "radius", 3.0)),
    ),
    "whirl": Start(
        "Whirl",
        "stacks, coils, nested outlines",
        "New whirl",
        (
            Polygon(sides=4, stands="on a flat"),
            Progression(count=36, distance=0.0, turn=6.0, across=91.0, along=91.0, turn_about="the pivot", size_about="the pivot"),
        ),
        ((0, "size", 6.0),),
    ),
    "seed-head": Start(
        "Seed head",
        "spirals at the golden angle",
        "New seed head",
        (Ellipse(), SeedHead(count=300, skip=2)),
        ((0, "width", 0.32), (1, "spacing", 0.21)),
    ),
}


def start_layer(name: str, sheet: Sheet, share: float = 9.0) -> Chain:
    """Return a new layer from a blank start, its motif one `share` of the sheet's shorter side."""
    natural = round(min(sheet.width, sheet.height) / share, 1 if sheet.unit in ("mm", "px", "pt") else 3)
    natural = natural or convert(NATURAL, "mm", sheet.unit, sheet.resolution)
    start, rules = STARTS[name], []
    for at, rule in enumerate(start.rules):
        lengths = {dial: round(natural * part, 4) for place, dial, part in start.lengths if place == at}
        rules.append(edited(rule, **lengths) if lengths else rule)
    by, palette = ("part", PALETTE) if len(rules) > 2 else ("column", PALETTE[:2])
    return with_new_ids(chain("Pattern", *rules[:-1], Ink(colours=by, palette=palette), rules[-1]))


def blank(name: str, sheet: Sheet | None = None, share: float = 9.0) -> Work:
    """Return a new work from a blank start."""
    sheet = sheet or Sheet()
    return Work(design=Design(name="Untitled", sheet=sheet, layers=(start_layer(name, sheet, share),)))
