"""Demo works that go round and step by step: rings, whirls, seed heads and nests."""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import COMMISSION, chain
from under_lattice.rules import (
    Adjust,
    Ellipse,
    Ink,
    Kite,
    Lattice,
    LeaveOut,
    Mirror,
    Petal,
    Polygon,
    Progression,
    Rectangle,
    Rosette,
    SeedHead,
    Spots,
    Symmetry,
    Trim,
    Weave,
)
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet

GOLDEN = 360.0 / (1.0 + (1.0 + 5.0**0.5) / 2.0)  # the golden angle, 137.5077...°
MIDDLE = Anchor(spot="sheet centre")
ABOUT: dict[str, Any] = {"turn_about": "the pivot", "size_about": "the pivot", "pivot": MIDDLE}


def ceiling_rosette() -> Design:
    """Plaster leaves in three rings, each leaf a stack of ever smaller leaves on one foot."""
    leaves = chain(
        "Leaves",
        Ellipse(width=34.0, roundness=250.0),
        Ink(
            colours="step",
            palette=("#7C8F86", "#F4EFE3", "#B9C4B4", "#F4EFE3", "#7C8F86", "#F4EFE3", "#C9A24B"),
            of="leaves-progression",
        ),
        Progression(
            count=7,
            distance=0.0,
            across=82.0,
            along=82.0,
            size_about="the pivot",
            pivot=Anchor(spot="motif bottom"),
            turn_about="the pivot",
        ),
        Rosette(count=16, radius=92.0),
    )
    buds = chain(
        "Buds",
        Ellipse(width=13.0, roundness=210.0),
        Ink(colours="step", palette=("#C9A24B", "#F4EFE3", "#C9A24B"), of="buds-progression"),
        Progression(count=3, distance=0.0, across=70.0, along=70.0),
        Rosette(count=16, radius=44.0, begin=11.25),
    )
    beads = chain(
        "Beads",
        Ellipse(width=7.0),
        Ink(colours="one colour", palette=("#7C8F86",)),
        Rosette(count=64, radius=144.0),
    )
    star = chain(
        "Star",
        Polygon(sides=16, measure="circumradius", size=27.0),
        Ink(colours="step", palette=("#F4EFE3", "#7C8F86"), of="star-progression"),
        Progression(count=9, distance=0.0, turn=11.25, across=84.0, along=84.0),
    )
    sheet = Sheet(width=320.0, height=320.0, background="#E4E0D2")
    return Design(name="Ceiling rosette", commission=COMMISSION, sheet=sheet, layers=(star, buds, leaves, beads))


def seed_clock() -> Design:
    """A clock face of seeds at the golden angle that grow outwards, coloured so that one sees eight arms; and twelve hours."""
    seeds = chain(
        "Seeds",
        Ellipse(width=10.5, roundness=82.0),
        Ink(
            colours="step",
            palette=("#F9E3A8", "#F5C25B", "#EE9A45", "#D9613A", "#93323F", "#D9613A", "#EE9A45", "#F5C25B"),
            of="seeds-seed-head",
        ),
        SeedHead(
            count=400,
            divergence="free",
            angle=GOLDEN,
            spacing=5.6,
            skip=4,
            size=Varied(rule="seeds-seed-head", channel="step", start=46.0, end=98.0, curve="slow end"),
        ),
    )
    hours = chain(
        "Hours",
        Kite(width=8.0, height=22.0, widest=30.0),
        Ink(colours="one colour", palette=("#F7DFA0",)),
        Rosette(count=12, radius=136.0),
    )
    minutes = chain("Minutes", Ellipse(width=2.8), Ink(colours="one colour", palette=("#7FA3AA",)), Rosette(count=60, radius=136.0))
    hands = chain(
        "Hands",
        Kite(width=12.0, height=118.0, widest=84.0),
        Adjust(y=-35.0),
        Ink(colours="step", palette=("#FFF6DF",), stroke="one colour", stroke_colour="#17303A", stroke_width=1.6),
        Progression(count=2, distance=0.0, turn=-62.0, along=74.0, across=120.0, **ABOUT),
    )
    hub_ink = Ink(colours="one colour", palette=("#F5C25B",), stroke="one colour", stroke_colour="#17303A", stroke_width=2.4)
    hub = chain("Hub", Ellipse(width=15.0), hub_ink)
    sheet = Sheet(width=310.0, height=310.0, background="#17303A")
    layers = (hub, hands, seeds, hours, minutes)
    return Design(name="Seed clock", commission=COMMISSION, sheet=sheet, layers=layers, main="seeds")


def festival_poster() -> Design:
    """Whirls: squares inscribed in squares, each turned by six degrees, every second whirl turning the other way."""
    turn = np.radians(6.0)
    inscribed = round(100.0 / float(np.cos(turn) + np.sin(turn)), 4)
    levels = Varied(rule="whirls-progression", channel="step", start=0.0, end=100.0)  # squares of one size lie side by side
    whirls = chain(
        "Whirls",
        Polygon(sides=4, measure="side", size=99.0, stands="on a flat"),
        Ink(colours="step", palette=("#15171A", "#F5EFE1"), of="whirls-progression"),
        Progression(count=86, distance=0.0, turn=6.0, across=inscribed, along=inscribed, begins=-400.0),
        Trim(at="another layer", layer="tile"),
        LeaveOut(which="exact doubles"),  # of the squares that fill the tile
        Lattice(form="squares", spacing="free", pitch=99.0, row_pitch=99.0, stacking="by level", level=levels),
        Mirror(keeps="every second mirrored", angle=90.0, pivot=Anchor(spot="motif centre")),
    )
    tile = edited(chain("Tile", Polygon(sides=4, measure="side", size=99.0, stands="on a flat")), source_only=True)
    sheet = Sheet(width=297.0, height=396.0, background="#F5EFE1")
    return Design(name="Festival poster", commission=COMMISSION, sheet=sheet, layers=(whirls, tile), main="whirls")


def tide_rings() -> Design:
    """Rings of growing counts: 6, 12, 18 ... discs, each ring as far from the last, the water rising through the colours."""
    drops = chain(
        "Drops",
        Ellipse(width=15.0),
        Ink(
            colours="step",
            palette=("#D0A24C", "#BFD8D2", "#7FB3B0", "#3F8790", "#20626F", "#124454", "#0C2E40", "#E2A14A", "#0C2E40"),
            of="drops-progression",
        ),
        Adjust(y=-16.4),
        Progression(count=9, distance=15.8, direction=-90.0, across=98.5, along=98.5),
        Rosette(
            count=Varied(rule="drops-progression", channel="step", start=6.0, end=54.0), radius_by="as it stands", pivot=MIDDLE
        ),
    )
    sheet = Sheet(width=310.0, height=310.0, background="#F7F2E4")
    return Design(name="Tide rings", commission=COMMISSION, sheet=sheet, layers=(drops,))


def coat_hooks() -> Design:
    """Order is meaning: the same motif and the same two rules, on the left ring then row, on the right row then ring."""
    ink = Ink(colours="step", palette=("#F7EBD2", "#E9B44C", "#D9694A", "#8FC0B5", "#E9B44C"))
    ring = Rosette(count=12, radius=22.0)
    row = Progression(count=5, distance=33.0, direction=-90.0, turn=7.0, across=82.0, along=82.0, turn_about="the pivot")
    petal = Petal(length=24.0, width=42.0)
    left = chain("Ring then row", petal, ring, row, ink, Adjust(x=-84.0, y=58.0))
    right = chain("Row then ring", petal, row, ring, ink, Adjust(x=80.0, y=0.0, across=46.0, along=46.0))
    boards = chain(
        "Boards",
        Rectangle(width=146.0, height=214.0, rounded=22.0),
        Ink(colours="step", palette=("#1F4657", "#23343F"), stroke="one colour", stroke_colour="#C98B4A", stroke_width=2.4),
        Spots(spots="-80, 0; 80, 0"),
    )
    sheet = Sheet(width=330.0, height=246.0, background="#EFE2C8")
    return Design(name="Coat hooks", commission=COMMISSION, sheet=sheet, layers=(left, right, boards))


def wash_room_tiles() -> Design:
    """One petal in the group p6 and one leaf in p6m: flowers where the axes meet, stars between."""
    cell = 92.0
    petals = chain(
        "Petals",
        Ellipse(width=13.0, roundness=250.0),
        Ink(
            colours="one colour",
            palette=("#F8E9C8", "#D98B4A", "#A23B3B"),
            inside="straight ramp",
            ramp_angle=90.0,
            stroke="one colour",
            stroke_colour="#233B4D",
            stroke_width=0.8,
        ),
        Symmetry(group="p6", width=cell, x=0.0, y=-22.0),
    )
    leaves = chain(
        "Leaves",
        Polygon(sides=4, measure="circumradius", size=13.0),
        Ink(colours="one colour", palette=("#5D8F8A",), stroke="one colour", stroke_colour="#233B4D", stroke_width=0.8),
        Adjust(across=52.0),
        Symmetry(group="p6m", width=cell, x=13.0, y=-45.6106, motif_turn=30.0),
    )
    sheet = Sheet(width=290.0, height=330.0, background="#E9E2CF")
    return Design(name="Wash-room tiles", commission=COMMISSION, sheet=sheet, layers=(petals, leaves))


def steam_window() -> Design:
    """A window of cut glass: a flower of petals clipped to its region of the group p4g, so that the pieces meet along the leads."""
    glass = chain(
        "Glass",
        Ellipse(width=14.0, roundness=460.0),
        Rosette(count=5, radius=16.0),
        Ink(
            colours="step",
            palette=("#27495A", "#C2694C", "#E3B45C", "#6E9B93"),
            of="glass-rosette",
            stroke="one colour",
            stroke_colour="#12222B",
            stroke_width=0.7,
        ),
        Symmetry(group="p4g", width=92.0, x=21.0, y=-9.0, shows="clipped to its region", pivot=MIDDLE),
    )
    sheet = Sheet(width=300.0, height=360.0, background="#F3E6CC")
    return Design(name="Steam-room window", commission=COMMISSION, sheet=sheet, layers=(glass,))


def rope_mat() -> Design:
    """A mat of flat ropes in three widths, woven two over two under, laid across the corner; all outlines closed."""
    strands = chain(
        "Strands",
        Weave(columns=46, rows=46, code="5 : 2 : 3", size=2.6, spacing=2.2, cut=0.7, order="twill", over=2, under=2),
        Ink(
            colours="part",
            palette=("#C99A5B", "#7A5230", "#E7CC98", "#D8B277", "#8E6238", "#F0DDB4"),
            stroke="one colour",
            stroke_colour="#2E2015",
            stroke_width=0.5,
        ),
        Adjust(turn=45.0),
    )
    sheet = Sheet(width=300.0, height=340.0, background="#2E2015")
    return Design(name="Rope mat", commission=COMMISSION, sheet=sheet, layers=(strands,))
