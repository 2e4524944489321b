"""Blank starts: one small pattern for each family, true to its name, with colours of its own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from under_lattice.colour.colour import contrast
from under_lattice.core.units import convert
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain, veil
from under_lattice.rules import (
    AlongCurve,
    ContactLines,
    Ellipse,
    Ink,
    Lattice,
    Lettering,
    Petal,
    Polygon,
    Progression,
    Rectangle,
    Rosette,
    SeedHead,
    Split,
    Symmetry,
    Tiling,
    Tone,
    WaveLine,
)
from under_lattice.rules.base import Rule
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.grouping import with_new_ids
from under_lattice.work.layers import Chain, Veil
from under_lattice.work.model import Design, Sheet, Work

NATURAL = 36.0  # mm; a start's unit is about a ninth of the sheet's shorter side
SEEN = 3.0  # least contrast of the first colour to the ground
SINGLE, EMPTY, WORDS = "shape", "empty", "words"
PAPER = "#F6F1E7"
Rules = tuple[Rule, ...]


@dataclass(frozen=True)
class Start:
    """A blank start: its title, what it leads to, what is said to begin it, the ground, and its rules for a unit of length."""

    title: str
    words: str
    verb: str
    ground: str = PAPER
    rules: Callable[[float], Rules] = lambda u: ()


def _over(channel: str, start: float, end: float, rule: str = "progression", **more: object) -> Varied:
    """A number that varies over a rule of the start itself."""
    return Varied.model_validate({"rule": f"start-{rule}", "channel": channel, "start": start, "end": end, **more})


def _squares(u: float) -> Rules:
    ink = Ink(colours="diagonal", palette=("#1F5A6B", "#3F8F8C", "#D8823B", "#8A3B2E"))
    return Polygon(sides=4, stands="on a flat", size=0.8 * u), ink, Lattice(form="squares", gap=0.2 * u)


def _hexagons(u: float) -> Rules:
    ink = Ink(colours="part", palette=("#5E8C86", "#E6DCC6", "#22404A"))
    return Polygon(size=u), Split(), ink, Lattice(form="hexagons on points")


def _triangles(u: float) -> Rules:
    ink = Ink(colours="parity", palette=("#2B3A55", "#C8553D"))
    return Polygon(sides=3, measure="side", stands="on a flat", size=u), ink, Lattice(form="triangles", gap=0.05 * u)


def _bricks(u: float) -> Rules:
    ink = Ink(colours="chance", palette=("#8C3B2A", "#A6503A", "#74321F", "#B5654A"))
    return Rectangle(width=1.4 * u, height=0.46 * u), ink, Lattice(form="staggered rows", gap=0.06 * u)


def _half_drop(u: float) -> Rules:
    ink = Ink(colours="column", palette=("#2F6650", "#C98A2B"))
    return Petal(length=1.25 * u, width=52.0), ink, Lattice(form="dropped columns", gap=0.12 * u)


def _slanting(u: float) -> Rules:
    ink = Ink(colours="diagonal", palette=("#5B3A78", "#B0486B", "#DB8A4A"))
    lattice = Lattice(form="two vectors", angle=20.0, row_angle=82.0, gap=0.1 * u)
    return Rectangle(width=0.95 * u, height=0.4 * u, rounded=100.0, turn=20.0), ink, lattice


def _ring(u: float) -> Rules:
    ink = Ink(colours="step", palette=("#B4483A", "#27506B"), fill_opacity=82.0, blend="multiply")
    return Petal(length=2.3 * u, width=34.0), ink, Rosette(count=16, radius=1.75 * u)


def _whirl(u: float) -> Rules:
    ink = Ink(colours="step", palette=("#16323F", "#2F7F86", "#E8C56B"), run="as a ramp")
    run = Progression(count=36, distance=0.0, turn=6.0, across=91.0, along=91.0, turn_about="the pivot", size_about="the pivot")
    return Polygon(sides=4, stands="on a flat", size=6.2 * u), ink, run


def _seeds(u: float) -> Rules:
    ink = Ink(colours="distance", palette=("#F2C14E", "#E4733B", "#8E2F4F"), run="as a ramp")
    size = _over("step", 50.0, 132.0, "seed-head")
    return Ellipse(width=0.28 * u), ink, SeedHead(count=300, skip=2, spacing=0.225 * u, size=size)


def _border(u: float) -> Rules:
    ink = Ink(colours="step", palette=("#1E4D5C", "#C0562F"))
    size = _over("step", 100.0, 100.0, "along-curve", taken=(100.0, 55.0))
    return (
        Ellipse(width=0.5 * u),
        ink,
        AlongCurve(line="the sheet's edge", inset=0.6 * u, spacing="by pitch", pitch=0.46 * u, size=size),
    )


def _symmetry(u: float) -> Rules:
    ink = Ink(colours="step", palette=("#27506B", "#C2694C", "#2F6650"), fill_opacity=88.0, blend="multiply")
    return Petal(length=1.5 * u, width=40.0, turn=30.0), ink, Symmetry(group="p4m", width=2.0 * u, x=0.62 * u, y=0.36 * u)


def _along(u: float) -> Rules:
    ink = Ink(colours="step", palette=("#12566B", "#3FA39A", "#E2A03F"), run="as a ramp")
    places = ((-3.6, 2.4), (-1.9, -2.2), (0.2, 1.9), (1.9, -1.9), (3.6, 2.2))
    points = "; ".join(f"{round(x * u, 4):g}, {round(y * u, 4):g}" for x, y in places)
    size = _over("step", 45.0, 150.0, "along-curve")
    return Ellipse(width=0.5 * u), ink, AlongCurve(points=points, count=34, size=size)


def _stars(u: float) -> Rules:
    ink = Ink(
        colours="part",
        palette=("#1D4F63", "#C2694C", "#E0B45A"),
        stroke="one colour",
        stroke_colour="#F6F1E7",
        stroke_width=0.03 * u,
    )
    return Tiling(meets="4.8.8", size=0.62 * u), ContactLines(angle=67.5), ink, Lattice(form="as the tiles lie")


def _spiral(u: float) -> Rules:
    ink = Ink(colours="step", palette=("#5A2A4D", "#C0455A", "#F0B45B"), run="as a ramp")
    run = Progression(
        count=90, distance=0.0, turn=21.0, across=97.0, along=97.0, turn_about="the pivot", size_about="the pivot",
        pivot=Anchor(spot="sheet centre"),
    )  # fmt: skip
    return Ellipse(width=1.16 * u, place_x=3.4 * u), ink, run


def _lines(u: float) -> Rules:
    ink = Ink(colours="none", stroke="one colour", stroke_colour="#1B2A41", stroke_width=0.075 * u)
    wave = WaveLine(
        width=8.0 * u, height=_over("step", 0.1 * u, 0.9 * u), waves=5, phase=_over("step", 0.0, 540.0), place_y=-3.6 * u
    )
    return wave, ink, Progression(count=44, distance=0.166 * u, direction=90.0)


def _lettering(u: float) -> Rules:
    ink = Ink(colours="row", palette=("#26374F", "#B1482F", "#5F7F52"))
    return Lettering(text="again", size=0.95 * u), ink, Lattice(form="staggered rows", gap=0.3 * u)


def _words(u: float) -> Rules:
    return Lettering(text="words", size=1.6 * u), Ink(colours="one colour", palette=("#26374F",))


def _single(u: float) -> Rules:
    return Ellipse(width=3.0 * u), Ink(colours="one colour", palette=("#1F5A6B",))


STARTS: dict[str, Start] = {
    "hexagons": Start("Hexagons", "honeycomb, cubes, rhombs", "New hexagon sheet", rules=_hexagons),
    "squares": Start("Square grid", "rows, checks", "New square grid", rules=_squares),
    "triangles": Start("Triangles", "alternate copies turned", "New triangle sheet", rules=_triangles),
    "bricks": Start("Bricks", "staggered rows", "New brick sheet", "#EDE6DA", _bricks),
    "half-drop": Start("Half-drop", "dropped columns", "New half-drop sheet", rules=_half_drop),
    "two-vectors": Start("Two vectors", "any slanting lattice", "New slanting sheet", rules=_slanting),
    "stars": Start("Star tiling", "stars and corners", "New star tiling", rules=_stars),
    "symmetry": Start("Symmetry group", "mirrors and turns", "New symmetry", rules=_symmetry),
    "ring": Start("Ring", "rosettes, dials, flowers", "New ring", rules=_ring),
    "whirl": Start("Whirl", "nested and turned", "New whirl", rules=_whirl),
    "spiral": Start("Spiral", "coils, galaxies, shells", "New spiral", rules=_spiral),
    "seed-head": Start("Seed head", "at the golden angle", "New seed head", "#17233A", _seeds),
    "along-curve": Start("Along a curve", "garlands, paths", "New garland", rules=_along),
    "border": Start("Border strip", "round the sheet", "New border", rules=_border),
    "lines": Start("Line pattern", "waves, op art", "New line pattern", "#F4EFE4", _lines),
    "lettering": Start("Lettering", "a word, repeated", "New lettering", rules=_lettering),
    SINGLE: Start("A single shape", "one motif, no rule yet", "New shape", rules=_single),
    EMPTY: Start("Empty sheet", "nothing at all", "New empty sheet"),
}


def start_layer(name: str, sheet: Sheet, share: float = 9.0) -> Chain:
    """Return a new layer from a blank start, for a unit of one `share` of the sheet's shorter side.

    It is called after its motif, and its first colours stand out from the ground of the sheet.
    """
    natural = round(min(sheet.width, sheet.height) / share, 1 if sheet.unit in ("mm", "px", "pt") else 3)
    natural = natural or convert(NATURAL, "mm", sheet.unit, sheet.resolution)
    made = _words(natural) if name == WORDS else STARTS[name].rules(natural)
    rules = [_tidied(_standing_out(rule, sheet.background)) for rule in made]
    layer = chain("start", *rules)
    return with_new_ids(edited(layer, name=rules[0].called()))


def start_veil() -> Veil:
    """Return a new veil that makes what lies beneath a little stronger."""
    return with_new_ids(veil("Veil", Tone()))


def _tidied(rule: Rule) -> Rule:
    """A rule with its lengths rounded, as one would type them."""
    lengths = {name: getattr(rule, name) for name, dial in rule.dials().items() if dial.kind == "length"}
    return edited(rule, **{name: round(value, 4) for name, value in lengths.items() if isinstance(value, float)})


def _standing_out(rule: Rule, ground: str) -> Rule:
    """An ink whose first colour, or stroke, can be seen on the ground; others as they are."""
    if rule.family != "paint" or not ground:
        return rule
    colours: tuple[str, ...] = getattr(rule, "palette", ())
    seen = sorted(colours, key=lambda one: contrast(one, ground) < SEEN)
    if contrast(seen[0], ground) < SEEN:
        seen = [max(("#1C1C1C", "#F4F1EA"), key=lambda one: contrast(one, ground)), *seen[1:]]
    changes: dict[str, object] = {} if contrast(colours[0], ground) >= SEEN else {"palette": tuple(seen)}
    if getattr(rule, "colours", "") == "none" and contrast(getattr(rule, "stroke_colour", ground), ground) < SEEN:
        changes["stroke_colour"] = seen[0]
    return edited(rule, **changes) if changes else rule


def blank(name: str, sheet: Sheet | None = None, share: float = 9.0) -> Work:
    """Return a new work from a blank start, on its own ground."""
    sheet = edited(sheet or Sheet(), background=STARTS[name].ground)
    layers = () if name == EMPTY else (start_layer(name, sheet, share),)
    return Work(design=Design(sheet=sheet, layers=layers))
