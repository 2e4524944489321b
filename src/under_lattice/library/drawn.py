"""Demo works from drawn curves."""

from __future__ import annotations

from importlib.resources import files

from under_lattice.library.layers import COMMISSION, chain
from under_lattice.pattern.ask import rest
from under_lattice.rules import (
    Adjust,
    AlongCurve,
    Combine,
    ContactLines,
    Ellipse,
    Ink,
    Lattice,
    LayerEnd,
    Offset,
    Outline,
    Polygon,
    Progression,
    Rectangle,
    Rosette,
    Roulette,
    SheetMotif,
    Spots,
    Tiling,
    Warp,
    WaveEdges,
)
from under_lattice.rules.base import Rule
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet

SHELL, SAND, DEEP, MOSS = "#F6EEDC", "#D9B679", "#1F3F4F", "#5F8573"
FRAME = 11.0  # mm, of the screen
SHELL_PINK, CORAL, BRICK = "#E9B7A0", "#C4705A", "#8E4237"
GREEN, RED, BLUE = "#2F6B58", "#B5472F", "#2B4C7E"


def _engraved(name: str, colour: str, width: float, motif: Roulette, count: int, arm: float, turn: float = 0.0) -> Chain:
    """Lines of one wheel whose arm grows from line to line."""
    start = float(rest(motif.arm))
    swelling = motif.model_copy(update={"arm": Varied(rule=f"{name.lower()}-progression", channel="step", start=start, end=arm)})
    ink = Ink(colours="none", stroke="one colour", stroke_colour=colour, stroke_width=width, join="round")
    return chain(name, swelling, Progression(count=count, distance=0.0, turn=turn), ink, end=LayerEnd(blend="multiply"))


def _tinted(name: str, colour: str, motif: Rule, *repeats: Rule) -> Chain:
    """Return flat tints that darken where they lie over each other."""
    return chain(name, motif, Ink(colours="one colour", palette=(colour,), blend="multiply"), *repeats)


def ticket() -> Design:
    """A bathing ticket engraved with the lines of rolling wheels, three inks multiplied over tints of yellow and brown."""
    border = _engraved("Border", BLUE, 0.26, Roulette(rolls="outside", ring=60, wheel=1, arm=420.0, width=176.0), 4, 420.0, 1.5)
    medal = _engraved("Medal", GREEN, 0.24, Roulette(ring=60, wheel=25, arm=30.0, width=146.0), 8, 92.0)
    star = _engraved("Star", RED, 0.24, Roulette(ring=60, wheel=35, arm=24.0, width=96.0), 12, 96.0)
    seal = _engraved("Seal", BLUE, 0.2, Roulette(ring=36, wheel=5, arm=40.0, width=34.0), 6, 120.0)
    petals = _tinted(
        "Petals", "#F8E3AC", Ellipse(width=58.0, roundness=46.0, turn=90.0), Rosette(count=16, radius_by="free", radius=43.5)
    )
    corners = _tinted(
        "Corners",
        "#E2BE93",
        Ellipse(width=20.0, roundness=46.0, turn=90.0),
        Rosette(count=8, radius_by="free", radius=9.0),
        Spots(spots="-80, -89; 80, -89; 80, 71; -80, 71"),
    )
    sheet = Sheet(width=204.0, height=204.0, background="#F7F0DF")
    layers = (seal, star, medal, border, corners, petals)
    return Design(name="Ticket engraving", commission=COMMISSION, sheet=sheet, layers=layers)


def changing_room_screen() -> Design:
    """Stars in octagons and squares, their rays flat at the sides and steep in the middle: a wave that runs to the right."""
    screen = chain(
        "Screen",
        Tiling(meets="4.8.8", size=16.4),
        ContactLines(angle=38.0, gives="the star"),
        Ink(colours="part", palette=(SAND, SHELL), stroke="one colour", stroke_colour=MOSS, stroke_width=1.3),
        Lattice(form="as the tiles lie"),
    )
    frame = chain(
        "Frame",
        SheetMotif(inset=0.0),
        Offset(distance=-FRAME, rings=1),
        Combine(how="first less the rest", of="the parts of each copy"),
        Ink(colours="one colour", palette=(MOSS,), stroke="one colour", stroke_colour=SHELL, stroke_width=1.6),
    )
    step = 16.4 * (1 + 2**0.5)  # from octagon to octagon: whole columns and rows stand in the frame
    sheet = Sheet(width=round(9 * step + 2 * FRAME, 2), height=round(5 * step + 2 * FRAME, 2), background=DEEP)
    return Design(name="Changing-room screen", commission=COMMISSION, sheet=sheet, layers=(frame, screen), main="screen")


def tea_room_frieze() -> Design:
    """Scallops, brought in from a drawing, with pearls on a waving line between two bands; all of it again every 80 mm."""
    from under_lattice.files.svg.shapes import read_svg  # loads the reader of path data

    drawn = read_svg((files("under_lattice.library") / "scallop.svg").read_bytes(), "scallop.svg")
    shells = chain(
        "Shells",
        Outline(outline=drawn.text, width=44.0),
        Ink(
            colours="part",
            palette=("#E9B7A0", *("#C4705A",) * 5, "#8E4237"),
            stroke="one colour",
            stroke_colour="#8E4237",
            stroke_width=0.5,
        ),
        AlongCurve(points="-160, -8; 160, -8", bends="straight", count=5, facing="upright", size=136.0),
    )
    waves = {"rule": "pearls-progression", "channel": "step", "curve": "there and back", "repeats": 5.0}
    pearls = chain(
        "Pearls",
        Ellipse(width=4.2, place_x=-200.0, place_y=44.0),
        Ink(colours="one colour", palette=("#F7EBDD",)),
        Progression(count=81, distance=5.0, direction=0.0),
        Adjust(scope="each", across=Varied(start=116.0, end=60.0, **waves), along=Varied(start=116.0, end=60.0, **waves)),
        Adjust(scope="each", y=Varied(start=0.0, end=-14.0, **waves)),
    )
    bands = chain(
        "Bands",
        Rectangle(width=480.0, height=13.0),
        WaveEdges(by="wavelength", wavelength=20.0, height=2.2, opposite="mirrored"),
        Ink(colours="one colour", palette=(BRICK,)),
        Spots(spots="0, -64; 0, 64"),
    )
    sheet = Sheet(width=400.0, height=150.0, background="#3E6A70")
    return Design(name="Tea-room frieze", commission=COMMISSION, sheet=sheet, layers=(pearls, shells, bands))


def porthole() -> Design:
    """A chequered wall that swells as if seen through a ship's porthole, turned a little in the glass."""
    wall = chain(
        "Wall",
        Polygon(sides=4, measure="side", size=17.0, stands="on a flat"),
        Ink(colours="parity", palette=("#14181C", "#F3EFE6"), of="wall-lattice"),
        Lattice(form="squares"),
        Warp(form="bulge", amount=150.0, reach=132.0),
        Warp(form="twist", angle=34.0, reach=132.0),
    )
    sheet = Sheet(width=306.0, height=306.0, background="#F3EFE6")
    return Design(name="Porthole", commission=COMMISSION, sheet=sheet, layers=(wall,))
