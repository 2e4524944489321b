"""Demo works whose motif is made of other layers."""

from __future__ import annotations

from under_lattice.library.layers import COMMISSION, chain
from under_lattice.rules import Adjust, DrawnCurve, Ellipse, Ink, Lattice, LayerMotif, Lettering, PixelMotif, Split, Star
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Sheet

NAVY, CREAM, BRICK, SAND, SEA = "#26374F", "#F4EFE4", "#C2694C", "#E4B45C", "#6E9C94"


def locker_doors() -> Design:
    """A badge for lockers: a group of four layers is the motif, and each badge follows when one of them is changed."""
    members = (
        chain("Word", Lettering(text="tern", size=9.0, spacing=6.0), Ink(colours="one colour", palette=(CREAM,)), Adjust(y=12.5)),
        chain("Gull", DrawnCurve(), Ink(colours="one colour", palette=(CREAM,)), Adjust(y=1.0, across=52.0, along=52.0)),
        chain("Shell", PixelMotif(side=1.1, palette=(CREAM, SAND, BRICK)), Adjust(y=-11.5)),
        chain("Disc", Ellipse(width=46.0), Ink(colours="one colour", palette=(NAVY,))),
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
        Ink(colours="part", palette=(SEA, NAVY)),
        Lattice(form="squares", spacing="free", pitch=64.0, row_pitch=64.0),
        Adjust(x=32.0, y=32.0),
    )
    sheet = Sheet(width=320.0, height=320.0, background="#E9DFC8")
    return Design(name="Locker doors", commission=COMMISSION, sheet=sheet, layers=(badges, ground, badge))
