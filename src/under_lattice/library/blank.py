"""Blank starts: one small chain for each family, drawn as bones on the first page."""

from __future__ import annotations

from dataclasses import dataclass

from under_lattice.core.units import convert
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules.base import Rule
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shapes.split import Split
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet, Work

PALETTE = ("#E6DCC6", "#5E8C86", "#22404A")
NATURAL = 36.0  # mm; a start is about a ninth of the sheet's shorter side


@dataclass(frozen=True)
class Start:
    """A blank start: its title, what it leads to, and its rules for a motif of `size`."""

    title: str
    words: str
    verb: str
    rules: tuple[Rule, ...]


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
    "ring": Start("Ring", "rosettes, dials, flowers", "New ring", (Ellipse(roundness=220.0), Rosette(count=16))),
    "whirl": Start(
        "Whirl",
        "stacks, coils, nested outlines",
        "New whirl",
        (Polygon(sides=4, stands="on a flat"), Progression(count=36, distance=0.0, turn=6.0, across=91.0, along=91.0)),
    ),
    "seed-head": Start("Seed head", "spirals at the golden angle", "New seed head", (Ellipse(), SeedHead(count=300, skip=2))),
}


def start_layer(name: str, sheet: Sheet, share: float = 9.0) -> Chain:
    """Return a new layer from a blank start, its motif one `share` of the sheet's shorter side."""
    natural = round(min(sheet.width, sheet.height) / share, 1 if sheet.unit in ("mm", "px", "pt") else 3)
    natural = natural or convert(NATURAL, "mm", sheet.unit, sheet.resolution)
    rules = tuple(_sized(rule, name, natural) for rule in STARTS[name].rules)
    by, palette = ("part", PALETTE) if len(rules) > 2 else ("column", PALETTE[:2])
    made = with_new_ids(chain("Pattern", *rules[:-1], Ink(colours=by, palette=palette), rules[-1]))
    assert isinstance(made, Chain)
    return made


def _sized(rule: Rule, name: str, natural: float) -> Rule:
    """A rule with lengths that suit a sheet of nine natural sizes."""
    if isinstance(rule, Polygon):
        return edited(rule, size=natural * (6.0 if name == "whirl" else 1.0))
    if isinstance(rule, Ellipse):
        return edited(rule, width=round(natural * (0.32 if name == "seed-head" else 0.75), 3))
    if isinstance(rule, Rosette):
        return edited(rule, radius=natural * 3)
    return edited(rule, spacing=round(natural * 0.21, 4)) if isinstance(rule, SeedHead) else rule


def blank(name: str, sheet: Sheet | None = None, share: float = 9.0) -> Work:
    """Return a new work from a blank start."""
    sheet = sheet or Sheet()
    return Work(design=Design(name="Untitled", sheet=sheet, layers=(start_layer(name, sheet, share),)))
