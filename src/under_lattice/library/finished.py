"""Demo works that need finishes: lights out of focus behind a sharp screen, plaster carved copy by copy, a pierced plate."""

from __future__ import annotations

from typing import Any

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import COMMISSION, chain, veil
from under_lattice.rules import (
    Adjust,
    Blur,
    Combine,
    ContactLines,
    Contour,
    Ellipse,
    Grain,
    Ink,
    Lattice,
    LeaveOut,
    Offset,
    Petal,
    Polygon,
    Progression,
    Relief,
    Ring,
    Rosette,
    SeedHead,
    Shadow,
    SheetMotif,
    Star,
    StrokeToShape,
    Tiling,
    Tone,
)
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet

BRASS, GLINT, NIGHT = "#2A2119", "#B98A4A", "#0D1730"
LIGHTS = ("#FFC46B", "#FF8A5C", "#F2E3B8", "#5FB6C9", "#E0567A")


def terrace_screen() -> Design:
    """A brass screen of stars before the lights of the harbour at night, which are out of focus and swim in the damp."""
    lights = chain(
        "Lights",
        Ellipse(width=15.0),
        Ink(colours="chance", palette=LIGHTS, fill_opacity=78.0),
        SeedHead(count=190, spacing=13.0, size=Varied(rule="lights-seed-head", channel="chance", start=35.0, end=165.0)),
        LeaveOut(which="by chance", share=35.0, seed=4),
        LeaveOut(which="beside the sheet"),
    )
    lights = edited(lights, end=edited(lights.end, blend="screen"))
    damp = veil("Damp", Blur(size=3.4), Tone(exposure=140.0, contrast=108.0, saturation=112.0))
    screen = chain(
        "Screen",
        Tiling(meets="4.8.8", size=20.0),
        ContactLines(angle=62.0, gives="lines"),
        StrokeToShape(width=3.0),
        Ink(colours="one colour", palette=(BRASS,), stroke="one colour", stroke_colour=GLINT, stroke_width=0.35),
        Lattice(form="as the tiles lie"),
        Shadow(distance=3.2, direction=58.0, soft=1.6, colour="#05070F", opacity=70.0),
    )
    frame = chain(
        "Frame",
        SheetMotif(inset=0.0),
        Offset(distance=-9.0, rings=1),
        Combine(how="first less the rest", of="the parts of each copy"),
        Ink(colours="one colour", palette=(BRASS,), stroke="one colour", stroke_colour=GLINT, stroke_width=0.6),
        Shadow(distance=3.2, direction=58.0, soft=2.2, colour="#05070F", opacity=75.0),
    )
    sheet = Sheet(width=290.0, height=348.0, background=NIGHT)
    layers = (frame, screen, damp, lights)
    return Design(name="Terrace screen", commission=COMMISSION, sheet=sheet, layers=layers, main="damp")


PLASTER, HOLLOW, WARM, COOL = "#E6DCCB", "#D9CDB9", "#FFF6E4", "#4A3B3A"
LIGHT: dict[str, Any] = {"direction": -125.0, "height": 38.0, "light": WARM, "shade": COOL}


def _carved(size: float, profile: str = "round", slope: float = 58.0, **more: Any) -> Relief:
    """Plaster in the light of one window."""
    return Relief.model_validate(LIGHT | {"size": size, "slope": slope, "profile": profile, "shade_opacity": 62.0} | more)


def _cast(distance: float, soft: float, opacity: float = 42.0) -> Shadow:
    """The shadow on the ground, away from the same window."""
    return Shadow(distance=distance, direction=55.0, soft=soft, colour=COOL, opacity=opacity)


def carved_ceiling() -> Design:
    """A plaster rose: one colour throughout, drawn by one light that stays where it is while leaves turn under it."""
    plaster = Ink(colours="one colour", palette=(PLASTER,))
    frame = chain(
        "Frame",
        Ring(width=296.0, inner=93.0),
        plaster,
        Progression(count=2, distance=0.0, across=84.0, along=84.0),
        _carved(4.0),
        _cast(3.0, 1.6),
    )
    leaves = chain(
        "Leaves", Petal(length=64.0, width=34.0), plaster, _carved(8.0, slope=50.0), _cast(2.6, 1.4), Rosette(count=12, radius=82.0)
    )
    tongues = chain(
        "Tongues",
        Petal(length=44.0, width=40.0),
        plaster,
        _carved(6.0, slope=54.0),
        _cast(2.0, 1.0),
        Rosette(count=12, radius=96.0, begin=15.0),
    )
    buds = chain(
        "Buds",
        Ellipse(width=15.0, roundness=190.0),
        plaster,
        Progression(count=2, distance=0.0, across=62.0, along=62.0),
        _carved(3.0),
        _cast(1.8, 0.9),
        Rosette(count=12, radius=38.0, begin=15.0),
    )
    beads = chain("Beads", Ellipse(width=6.4), plaster, _carved(3.2), _cast(1.2, 0.6), Rosette(count=60, radius=129.0))
    boss = chain("Boss", Star(points=12, size=46.0, inner=72.0), plaster, _carved(9.0, "hollow", 64.0), _cast(2.4, 1.2))
    eye = chain("Eye", Ellipse(width=15.0), plaster, _carved(7.5), _cast(1.6, 0.8))
    ground = chain(
        "Ground",
        SheetMotif(inset=0.0),
        Ink(
            colours="one colour",
            palette=(HOLLOW,),
            inside="straight ramp",
            ramp="0 #EEE5D6; 55 #DCD1BE; 100 #C3B6A2",
            ramp_angle=55.0,
        ),
        Grain(amount=5.0, size=0.9),
    )
    sheet = Sheet(width=320.0, height=320.0, background=HOLLOW)
    layers = (eye, boss, buds, leaves, tongues, beads, frame, ground)
    return Design(name="Carved ceiling", commission=COMMISSION, sheet=sheet, layers=layers, main="leaves")


def vent_plate() -> Design:
    """A pierced plate: lozenges sunk into brushed bronze, wider and turned with their distance from the middle."""
    slots = chain(
        "Slots",
        Polygon(sides=4, measure="circumradius", size=8.0),
        Ink(colours="one colour", palette=("#101A1C",)),
        Lattice(form="hexagons on points", spacing="free", pitch=16.5, extent="whole copies inside", margin=-17.0),
        Adjust(
            scope=EACH,
            across=Varied(rule="slots-lattice", channel="distance", start=30.0, end=74.0),
            turn=Varied(rule="slots-lattice", channel="distance", start=0.0, end=180.0),
            pivot=Anchor(),
        ),
        Shadow(distance=1.8, direction=55.0, soft=0.9, colour="#000000", opacity=80.0, falls="inside"),
        Relief.model_validate(
            LIGHT | {"size": 2.1, "slope": -52.0, "side": "outside", "light": "#FFE9B8", "shade": "#1A0E06", "light_opacity": 85.0}
        ),
    )
    plate = chain(
        "Plate",
        SheetMotif(inset=9.0, rounded=7.0),
        Ink(
            colours="one colour",
            palette=("#A9824C",),
            inside="straight ramp",
            ramp="0 #D9B77A; 34 #B48C50; 70 #8C6637; 100 #6F4E2A",
            ramp_angle=58.0,
        ),
        Grain(amount=7.0, size=0.5),
        Relief.model_validate(LIGHT | {"size": 3.2, "slope": 48.0, "profile": "soft", "light": "#FFE9B8", "shade": "#1A0E06"}),
        Contour(width=0.5, colour="#2B1C0E"),
        Shadow(distance=3.4, direction=55.0, soft=2.2, colour="#06090A", opacity=70.0),
    )
    sheet = Sheet(width=260.0, height=300.0, background="#39413F")
    return Design(name="Vent plate", commission=COMMISSION, sheet=sheet, layers=(slots, plate), main="slots")
