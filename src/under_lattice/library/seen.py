"""Demo works in which pictures are seen: a fish in stones and in two inks, the weave of a dyed towel."""

from __future__ import annotations

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import COMMISSION, chain, veil
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.rules import (
    Adjust,
    AlongCurve,
    Combine,
    Ellipse,
    Halftone,
    Ink,
    Lattice,
    LayerMotif,
    Offset,
    PictureMotif,
    Polygon,
    Progression,
    Rectangle,
    SheetMotif,
    Smear,
    Star,
    Streaks,
    Tone,
    ToneCurve,
)
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Chain, Group
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


CLOTH, INDIGO = "#F2ECDD", "#1E2A6E"


def _burst(name: str, across: float, down: float, size: float, turn: float, amount: float) -> Chain:
    """One burst, linked to the others: its dye has run out from its own middle."""
    dye = chain(
        name,
        LayerMotif(layer="burst", size=size, turn=turn, place_x=across, place_y=down),
        Streaks(share=amount, across=across, down=down),
    )
    return edited(dye, end=edited(dye.end, blend="multiply"))


def indigo_towel() -> Design:
    """Rings and spikes tied into a towel three times, linked; the dye has run outwards, and the weave shows through."""
    rings = chain(
        "Rings",
        Ellipse(width=150.0),
        Ink(
            colours="step",
            palette=("#26348A", "#B9CBF2", "#3E56B0", "#E3EAF8", "#1E2A6E", "#A9BDEC", "#4A63BE", "#DCE5F7", "#F4F6FB"),
            of="rings-progression",
        ),
        Progression(count=9, distance=0.0, across=86.0, along=86.0, spacing="free"),
    )
    spikes = chain(
        "Spikes", Star(points=28, size=188.0, inner=70.0), Ink(colours="one colour", palette=("#3B4FA6",), fill_opacity=82.0)
    )
    core = chain("Core", Star(points=14, size=38.0, inner=34.0), Ink(colours="one colour", palette=("#131B4F",)))
    burst = Group(id="burst", handle="burst", name="Burst", layers=(core, rings, spikes), source_only=True)
    linen = sample_picture("linen")
    weave = chain("Weave", PictureMotif(picture=linen.id, width=540.0))
    weave = edited(weave, end=edited(weave.end, blend="soft-light"))
    curve = ToneCurve(curve="0 6; 70 58; 176 190; 255 252")
    wash = veil("Wash", Tone(saturation=135.0, favours="pale colours", contrast=100.0), curve)
    stripes = chain(
        "Stripes",
        Rectangle(width=300.0, height=3.2, place_y=-178.0),
        Ink(colours="one colour", palette=(INDIGO,), fill_opacity=85.0),
        Progression(count=3, distance=7.0, direction=90.0),
        Smear(length=2.0, size=0.8),
    )
    stripes = edited(stripes, end=edited(stripes.end, blend="multiply"))
    layers = (
        weave,
        wash,
        stripes,
        _burst("Left burst", -52.0, -74.0, 92.0, 0.0, 9.0),
        _burst("Right burst", 58.0, 12.0, 108.0, 9.0, 11.0),
        _burst("Low burst", -40.0, 112.0, 78.0, 4.0, 8.0),
        burst,
    )
    sheet = Sheet(width=280.0, height=380.0, background=CLOTH)
    return Design(name="Indigo towel", commission=COMMISSION, sheet=sheet, layers=layers, pictures=(linen,), main="right-burst")


def foot_bath_print() -> Design:
    """The fish of the foot bath as a print in two inks: dots of sea and lines of coral, each as large as its tone is dark."""
    fish = sample_picture("fish")
    sea = chain(
        "Sea dots",
        PictureMotif(picture=fish.id, width=330.0),
        ToneCurve(curve="0 150; 60 172; 140 236; 255 255"),
        Halftone(form="hexagons", pitch=4.2, angle=15.0, ink="#0F4C5C"),
    )
    coral = chain(
        "Coral lines",
        PictureMotif(picture=fish.id, width=330.0),
        ToneCurve(curve="0 255; 96 252; 160 130; 255 70"),
        Halftone(form="lines", pitch=4.8, angle=-58.0, ink="#F0653E"),
    )
    coral = edited(coral, end=edited(coral.end, blend="multiply"))
    sheet = Sheet(width=324.0, height=252.0, background="#F6EDDA")
    layers = (coral, sea)
    return Design(name="Foot-bath print", commission=COMMISSION, sheet=sheet, layers=layers, pictures=(fish,), main="sea-dots")
