"""Demo works that need finishes: lights out of focus behind a sharp screen that throws a shadow."""

from __future__ import annotations

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import COMMISSION, chain, veil
from under_lattice.rules import (
    Blur,
    Combine,
    ContactLines,
    Ellipse,
    Ink,
    Lattice,
    LeaveOut,
    Offset,
    SeedHead,
    Shadow,
    SheetMotif,
    StrokeToShape,
    Tiling,
    Tone,
)
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
