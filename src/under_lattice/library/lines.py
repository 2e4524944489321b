"""Demo works that follow lines."""

from __future__ import annotations

from under_lattice.library.layers import COMMISSION, chain
from under_lattice.rules import Adjust, AlongCurve, Ellipse, Ink, Interlace, Mirror, Progression, Rosette
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet

GREEN, SAND, RUST, SEA = "#3F6B5C", "#F3E6CC", "#C2694C", "#27495A"


def kelp_curtain() -> Design:
    """Pairs of leaves along a waving line, smaller upwards, stalk beside stalk in a rim of pebbles."""
    leaf = (
        Ellipse(width=6.4, roundness=380.0),
        Adjust(turn=52.0, pivot=Anchor(spot="motif bottom")),
        Mirror(angle=0.0, pivot=Anchor(spot="motif bottom left", dy=0.0)),
    )
    stalk = AlongCurve(
        points="-96, 146; -104, 92; -89, 38; -103, -16; -90, -70; -97, -150",
        count=30,
        size=Varied(rule="kelp-along-curve", channel="step", start=104.0, end=40.0),
    )
    kelp = chain(
        "Kelp",
        *leaf,
        stalk,
        Ink(colours="step", palette=(GREEN, "#7FA88B", SEA, "#7FA88B"), of="kelp-progression"),
        Progression(count=5, distance=48.0, direction=0.0),
    )
    behind = chain(
        "Behind",
        *leaf,
        AlongCurve(
            points="-70, 150; -60, 84; -74, 30; -62, -24; -72, -76; -66, -120",
            count=24,
            size=Varied(rule="behind-along-curve", channel="step", start=86.0, end=34.0),
        ),
        Ink(colours="one colour", palette=("#C3CFA9",)),
        Progression(count=4, distance=48.0, direction=0.0),
    )
    pebbles = chain(
        "Pebbles",
        Ellipse(width=8.4, roundness=64.0),
        Ink(colours="step", palette=(RUST, SEA, "#E3B45C", SEA), of="pebbles-along-curve"),
        AlongCurve(line="the sheet's edge", inset=12.0, spacing="by pitch", pitch=10.4, begin=0.431),
    )
    sheet = Sheet(width=290.0, height=360.0, background=SAND)
    return Design(name="Kelp curtain", commission=COMMISSION, sheet=sheet, layers=(kelp, behind, pebbles), main="kelp")


def life_rings() -> Design:
    """Ten life rings hung in a ring, plaited over and under, with a plaited rim of ropes round them."""
    rings = chain(
        "Rings",
        Ellipse(width=106.0),
        Rosette(count=10, radius=72.0),
        Interlace(width=6.4, gap=1.4),
        Ink(colours="row", palette=("#D9573F", "#F6F0E2"), stroke="one colour", stroke_colour="#16323F", stroke_width=0.9),
    )
    rim = chain(
        "Rim",
        Ellipse(width=40.0, roundness=68.0),
        AlongCurve(line="the sheet's edge", inset=19.0, spacing="by pitch", pitch=24.3333),
        Interlace(width=3.6, gap=1.0),
        Ink(colours="row", palette=("#E3B45C", "#8FB5B0"), stroke="one colour", stroke_colour="#16323F", stroke_width=0.6),
    )
    sheet = Sheet(width=330.0, height=330.0, background="#1F4756")
    boss = chain(
        "Boss",
        Ellipse(width=44.0),
        Ink(colours="step", palette=("#E3B45C", "#1F4756", "#F6F0E2", "#1F4756", "#D9573F")),
        Progression(count=5, distance=0.0, across=74.0, along=74.0),
    )
    return Design(name="Life rings", commission=COMMISSION, sheet=sheet, layers=(boss, rings, rim), main="rings")
