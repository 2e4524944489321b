"""Demo works that look at pictures."""

from __future__ import annotations

from under_lattice.library.layers import COMMISSION, chain
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.rules import Adjust, Ellipse, Ink, Lattice
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet


def foot_bath() -> Design:
    """A fish of round pebbles, larger and lighter where the picture of a fish is light."""
    fish = sample_picture("fish")
    size = Varied(rule="pebbles-lattice", channel="picture", picture=fish.id, start=34.0, end=97.0, curve="slow end")
    pebbles = chain(
        "Pebbles",
        Ellipse(width=4.6),
        Lattice(form="hexagons on points"),
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
    sheet = Sheet(width=324.0, height=252.0, background="#0F2F3B")
    return Design(name="Foot-bath fish", commission=COMMISSION, sheet=sheet, layers=(pebbles,), pictures=(fish,))
