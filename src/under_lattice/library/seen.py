"""Demo works that look at pictures."""

from __future__ import annotations

from under_lattice.library.layers import COMMISSION, chain
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.rules import Adjust, AlongCurve, Combine, Ink, Lattice, Offset, Polygon, Rectangle, SheetMotif
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet


def foot_bath() -> Design:
    """A fish laid in small square stones, wider and lighter where the picture of a fish is light, in a border of two stones."""
    fish = sample_picture("fish")
    size = Varied(rule="pebbles-lattice", channel="picture", picture=fish.id, start=34.0, end=97.0, curve="slow end")
    pebbles = chain(
        "Pebbles",
        Rectangle(width=5.0, height=5.0, rounded=24.0),
        Lattice(form="staggered rows", gap=0.2),
        Adjust(scope=EACH, across=size, along=size),
        Ink(
            colours="picture",
            picture=fish.id,
            palette=("#2F7F86", "#1F6A78", "#3E98A0", "#E8B04A", "#F2CF7B", "#FBF1D8"),
            run="as a ramp",
            mixing="Oklab",
            of="pebbles-lattice",
        ),
    )
    border = chain(
        "Border",
        SheetMotif(inset=0.0),
        Offset(distance=-16.0, rings=1),
        Combine(how="first less the rest", of="the parts of each copy"),
        Ink(colours="one colour", palette=("#0B232C",)),
    )
    stones = chain(
        "Stones",
        Polygon(sides=4, measure="circumradius", size=4.4),
        Ink(colours="step", palette=("#E8B04A", "#3E98A0")),
        AlongCurve(line="the sheet's edge", inset=8.0, spacing="by pitch", pitch=10.0),
    )
    sheet = Sheet(width=324.0, height=252.0, background="#0F2F3B")
    layers = (stones, border, pebbles)
    return Design(name="Foot-bath fish", commission=COMMISSION, sheet=sheet, layers=layers, pictures=(fish,), main="pebbles")
