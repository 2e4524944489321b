"""Demo works of layers that come together: shapes filled with a pattern, a motif made of layers, a picture under a painted mask."""

from __future__ import annotations

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import COMMISSION, chain
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.rules import (
    Adjust,
    DrawnCurve,
    Ellipse,
    Ink,
    Lattice,
    LayerMotif,
    Lettering,
    PictureMotif,
    PixelMotif,
    Polygon,
    Rectangle,
    Split,
    Star,
)
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet

NAVY, SEA, FOAM, SUN, SAND = "#1D3A4F", "#3F8A8C", "#F3EEE0", "#E9A23B", "#F6EEDD"
SLATE, CREAM, BRICK, SHELL, SAGE = "#26374F", "#F4EFE4", "#C2694C", "#E4B45C", "#6E9C94"  # of the badges


def _with_pattern(**more: object) -> Ink:
    """An ink that fills shapes with the scales of the water."""
    return Ink.model_validate({"colours": "one colour", "palette": (NAVY,), "inside": "another layer", "pattern": "scales"} | more)


def tide_board() -> Design:
    """A word and the water under a low sun, filled in step with the same scales; smaller scales lie anew in each of the lamps."""
    rings = Ink(colours="one colour", palette=(SEA,), stroke="one colour", stroke_colour=FOAM, stroke_width=1.1)
    heart = Ink(
        colours="one colour",
        inside="round ramp",
        ramp="0 #1D3A4F; 62 #1D3A4F; 63 #F3EEE0; 71 #F3EEE0; 72 #3F8A8C 0%; 100 #3F8A8C 0%",
        coat="on top",
    )
    lattice = Lattice(form="staggered rows", spacing="free", pitch=22.0, row_pitch=5.5)
    scales = edited(chain("Scales", Ellipse(width=22.0), rings, heart, lattice), source_only=True)
    word = chain(
        "Word",
        Lettering(text="TIDE", size=104.0, spacing=4.0),
        _with_pattern(stroke="one colour", stroke_colour=NAVY, stroke_width=1.6),
        Adjust(y=-6.0),
    )
    buoys = chain(
        "Buoys",
        Ellipse(width=30.0),
        _with_pattern(pattern_of="each shape", pattern_size=60.0, stroke="one colour", stroke_colour=NAVY, stroke_width=1.2),
        Lattice(form="squares", spacing="free", pitch=44.0, extent="by number", columns=7, rows=1),
        Adjust(y=-92.0),
    )
    water = chain("Water", Rectangle(width=340.0, height=64.0), _with_pattern(), Adjust(y=87.0))
    sun = chain("Sun", Ellipse(width=186.0), Ink(colours="one colour", palette=(SUN,)), Adjust(y=50.0))
    sheet = Sheet(width=340.0, height=238.0, background=SAND)
    layers = (word, water, buoys, sun, scales)
    return Design(name="Tide board", commission=COMMISSION, sheet=sheet, layers=layers, main="word")


def harbour_window() -> Design:
    """A grid of fine lines across the view over the harbour, multiplied with it; a soft brush has cleared the sky and the boats."""
    view = sample_picture("harbour view")
    picture = chain("View", PictureMotif(picture=view.id, width=330.0))
    picture = edited(picture, end=edited(picture.end, opacity=82.0))
    grid = chain(
        "Grid",
        Polygon(sides=4, measure="side", size=7.0, stands="on a flat"),
        Ink(colours="none", stroke="one colour", stroke_colour="#8A4B3C", stroke_width=0.55),
        Lattice(form="squares", turn=45.0),
    )
    cleared = "hides 92 75 100: -16,-46 14,-26 46,-6\nhides 62 80 85: 44,62 36,88"
    grid = edited(grid, end=edited(grid.end, blend="multiply", masked="painted", mask_strokes=cleared))
    sheet = Sheet(width=320.0, height=240.0, background=SAND)
    return Design(name="Harbour window", commission=COMMISSION, sheet=sheet, layers=(grid, picture), pictures=(view,), main="grid")


def locker_doors() -> Design:
    """A badge for lockers: a group of four layers is the motif, and each badge follows when one of them is changed."""
    members = (
        chain("Word", Lettering(text="tern", size=9.0, spacing=6.0), Ink(colours="one colour", palette=(CREAM,)), Adjust(y=12.5)),
        chain("Gull", DrawnCurve(), Ink(colours="one colour", palette=(CREAM,)), Adjust(y=1.0, across=52.0, along=52.0)),
        chain("Shell", PixelMotif(side=1.1, palette=(CREAM, SHELL, BRICK)), Adjust(y=-11.5)),
        chain("Disc", Ellipse(width=46.0), Ink(colours="one colour", palette=(SLATE,))),
        chain("Rim", Star(points=24, size=58.0, inner=86.0), Ink(colours="one colour", palette=(BRICK,))),
    )
    badge = Group(id="badge", handle="badge", name="Badge", layers=members, source_only=True)
    badges = chain(
        "Badges",
        LayerMotif(layer="badge", stands="as it lies"),
        Lattice(form="squares", spacing="free", pitch=64.0, row_pitch=64.0),
    )
    ground = chain(
        "Ground",
        Star(points=4, size=36.0, inner=40.0),
        Split(into="triangles"),
        Ink(colours="part", palette=(SAGE, SLATE)),
        Lattice(form="squares", spacing="free", pitch=64.0, row_pitch=64.0),
        Adjust(x=32.0, y=32.0),
    )
    sheet = Sheet(width=320.0, height=320.0, background="#E9DFC8")
    return Design(name="Locker doors", commission=COMMISSION, sheet=sheet, layers=(badges, ground, badge))
