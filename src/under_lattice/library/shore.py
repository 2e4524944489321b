"""Demo works of the shore: what is seen through water, on it and in it, and by the light of the evening."""

from __future__ import annotations

from typing import Any

from under_lattice.library.layers import COMMISSION, chain, veil
from under_lattice.rules import (
    Adjust,
    Blur,
    Ellipse,
    Grain,
    Halftone,
    Ink,
    Lattice,
    LeaveOut,
    Petal,
    Polygon,
    Progression,
    Relief,
    Ripple,
    Rosette,
    SeedHead,
    Shadow,
    SheetMotif,
    Warp,
)
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet


def pool_floor() -> Design:
    """A chequered floor seen through water: every tile is square, every line bent by three ripples above it."""
    floor = chain(
        "Floor",
        Polygon(sides=4, size=15.6, turn=45.0),
        Ink(colours="parity", palette=("#EFE6D0", "#14606F")),
        Lattice(form="squares", spacing="free", pitch=16.0, row_pitch=16.0),
    )
    water = veil(
        "Water",
        Ripple(length=96.0, height=6.5, direction=20.0),
        Ripple(length=57.0, height=3.4, direction=-50.0, phase=90.0),
        Ripple(form="rings", length=30.0, height=2.6, across=60.0, down=-70.0),
    )
    falls = {"inside": "round ramp", "ramp_across": 66.0, "ramp_down": 24.0, "ramp_reach": 105.0}
    light = _ground("Light", "0 #FFF3C8; 45 #7FD0CE; 100 #06303E", **falls, blend="soft-light", fill_opacity=80.0)
    layers = (light, water, floor)
    sheet = Sheet(width=290.0, height=348.0, background="#0B3E4A")
    return Design(name="Pool floor", commission=COMMISSION, sheet=sheet, layers=layers, main="water")


def tide_wall() -> Design:
    """Scallops overlap like water; each is a disc in a disc in a disc, and the colour deepens from row to row."""
    scales = chain(
        "Scales",
        Ellipse(width=46.0),
        Progression(count=5, distance=0.0, across=78.0, along=78.0),
        Ink(
            colours="row",
            palette=("#F6EBD3", "#BFD8D2", "#6FA8A8", "#2F6F7E", "#17394F"),
            run="as a ramp",
            of="scales-lattice",
            stroke="one colour",
            stroke_colour="#F6EBD3",
            stroke_width=0.9,
        ),
        Lattice(form="staggered rows", spacing="free", pitch=46.0, row_pitch=11.5),
        LeaveOut(which="beside the sheet"),
    )
    sheet = Sheet(width=300.0, height=300.0, background="#17394F")
    return Design(name="Tide wall", commission=COMMISSION, sheet=sheet, layers=(scales,))


def _ground(name: str, ramp: str, **more: Any) -> Chain:
    """A ramp over the sheet, from top to bottom unless it is told otherwise."""
    ink = Ink.model_validate({"colours": "one colour", "palette": ("#FFFFFF",), "inside": "straight ramp", "ramp": ramp, **more})
    return chain(name, SheetMotif(inset=0.0), ink)


def school() -> Design:
    """A school of fish: petals of a seed head, each turned by smooth chance, those in the middle near and pale."""
    fish = chain(
        "School",
        Petal(length=17.0, width=16.0),
        Ink(colours="distance", palette=("#F7EEDC", "#F5C98B", "#E58A6B", "#5E86A0", "#2C587A"), run="as a ramp"),
        SeedHead(
            count=560,
            spacing=6.0,
            facing="upright",
            size=Varied(rule="school-seed-head", channel="distance", start=125.0, end=46.0),
        ),
        Adjust(scope=EACH, turn=Varied(rule="school-seed-head", channel="noise", start=-110.0, end=110.0, seed=7)),
    )
    ramp = "0 #2A6388; 60 #16395A; 100 #0B1A2C"
    deep = _ground("Deep", ramp, inside="round ramp", ramp_across=50.0, ramp_down=46.0, ramp_reach=95.0, mixing="Oklab")
    sheet = Sheet(width=300.0, height=300.0, background="#0B1A2C")
    return Design(name="School of fish", commission=COMMISSION, sheet=sheet, layers=(fish, deep), main="school")


def rain() -> Design:
    """Rain on the pool: each drop a disc grown by equal steps, its size left to chance; where rings meet they are brighter."""
    drops = chain(
        "Drops",
        Ellipse(width=4.0),
        Ink(
            colours="none",
            stroke="one colour",
            stroke_colour="#BFE3E6",
            stroke_width=0.7,
            stroke_blend="screen",
            stroke_opacity=80.0,
        ),
        Progression(count=7, distance=0.0, across=300.0, along=300.0, grows="by equal step"),
        SeedHead(count=70, spacing=26.0, size=Varied(rule="drops-seed-head", channel="chance", start=26.0, end=120.0, seed=5)),
        LeaveOut(which="beside the sheet"),
    )
    deep = _ground("Pool", "0 #0F2C3F; 55 #1C5468; 100 #2F7F86", mixing="Oklab")
    sheet = Sheet(width=290.0, height=348.0, background="#0F2C3F")
    return Design(name="Rain", commission=COMMISSION, sheet=sheet, layers=(drops, deep), main="drops")


def moon_pool() -> Design:
    """Two sets of rings, one a little aside: the moon in a pool, drawn by a third pattern that neither of them has."""

    def rings(name: str, x: float, y: float) -> Chain:
        return chain(
            name,
            Ellipse(place_x=x, place_y=y, width=6.0),
            Ink(colours="none", stroke="one colour", stroke_colour="#F4F1E8", stroke_width=1.35),
            Progression(count=62, distance=0.0, across=180.0, along=180.0, grows="by equal step"),
        )

    sheet = Sheet(width=280.0, height=280.0, background="#101418")
    layers = (rings("Near", -16.0, -12.0), rings("Far", 16.0, 12.0))
    return Design(name="Moon pool", commission=COMMISSION, sheet=sheet, layers=layers, main="near")


def nautilus() -> Design:
    """One chamber, turned and made smaller sixty times about a point outside itself: a shell."""
    chambers = chain(
        "Chambers",
        Ellipse(width=132.0, roundness=70.0, place_x=62.0, place_y=14.0),
        Ink(
            colours="step",
            palette=("#F7EBDD", "#F0C7A0", "#D98C66", "#A65A4A", "#5B2F3C"),
            run="as a ramp",
            stroke="one colour",
            stroke_colour="#4A2430",
            stroke_width=0.6,
        ),
        Progression(
            count=64,
            distance=0.0,
            turn=17.0,
            across=95.2,
            along=95.2,
            turn_about="the pivot",
            size_about="the pivot",
            pivot=Anchor(spot="motif centre", dx=-88.0, dy=-26.0),
        ),
        Shadow(distance=0.0, soft=2.5, colour="#7A4A3A", opacity=35.0),
    )
    sheet = Sheet(width=300.0, height=300.0, background="#EFE7DA")
    return Design(name="Nautilus", commission=COMMISSION, sheet=sheet, layers=(chambers,))


def paper_lamps() -> Design:
    """Paper lamps over the terrace: a plain grid of discs, its rows drawn together by how far they are; all glow."""
    far = {"start": 40.0, "end": 128.0}
    lamps = chain(
        "Lamps",
        Ellipse(width=22.0),
        Ink(colours="noise", palette=("#FFE3A3", "#FFB45C", "#F2795B", "#D9506B"), run="as a ramp"),
        Lattice(form="hexagons on points", extent="whole copies inside", margin=-1.0, spacing="free", pitch=34.0),
        Adjust(
            across=Varied(rule="lamps-lattice", channel="y", **far),
            along=Varied(rule="lamps-lattice", channel="y", **far),
        ),
        Shadow(distance=0.0, soft=7.0, colour="#FFB45C", opacity=70.0, spread=1.0, blend="screen"),
    )
    sheet = Sheet(width=280.0, height=350.0, background="#14122B")
    layers = (lamps, _ground("Dusk", "0 #0B0E24; 60 #2A1E4A; 100 #5A2C55"))
    return Design(name="Paper lamps", commission=COMMISSION, sheet=sheet, layers=layers, main="lamps")


def drying_net() -> Design:
    """A net hung to dry: a straight mesh of lines, bent by a wave and by a bulge, before a sun that is out of focus."""
    mesh = chain(
        "Mesh",
        Polygon(sides=4, size=9.0),
        Ink(colours="none", stroke="one colour", stroke_colour="#F2E6CF", stroke_width=0.55),
        Lattice(form="squares", turn=45.0),
        Warp(form="wave", height=12.0, wavelength=150.0, direction=90.0),
        Warp(form="bulge", amount=46.0, reach=130.0),
    )
    sun = chain("Sun", Ellipse(width=118.0), Ink(colours="one colour", palette=("#F28F3B",)), Blur(size=7.0))
    sheet = Sheet(width=280.0, height=336.0, background="#23304F")
    layers = (mesh, sun, _ground("Sky", "0 #1A2340; 55 #5B3A5E; 100 #C8553D"))
    return Design(name="Drying net", commission=COMMISSION, sheet=sheet, layers=layers, main="mesh")


def pilot_light() -> Design:
    """A low sun over the water, engraved: greys of sky, sun and sea, all told by straight lines that swell."""
    sun = chain(
        "Sun",
        Ellipse(width=120.0, place_y=-24.0),
        Ink(colours="one colour", palette=("#000000",), inside="straight ramp", ramp="0 #161616; 62 #6A6A6A; 100 #E8E8E8"),
    )
    glint = chain(
        "Glint",
        Ellipse(width=92.0, roundness=4.0, place_y=26.0),
        Ink(colours="one colour", palette=("#F2F2F2",)),
        Progression(count=11, distance=11.0, direction=90.0, across=88.0, along=118.0),
    )
    cut = veil("Cut", Blur(size=1.2), Halftone(form="lines", pitch=3.1, angle=0.0, ink="#1B2A49", ground="#F7EFE0"))
    sheet = Sheet(width=290.0, height=348.0, background="#F7EFE0")
    layers = (cut, glint, sun, _ground("Sky", "0 #8A8A8A; 46 #F4F4F4; 54 #FFFFFF; 55 #4A4A4A; 100 #101010"))
    return Design(name="Pilot light", commission=COMMISSION, sheet=sheet, layers=layers, main="cut")


def sun_deck() -> Design:
    """Forty-eight rays, long and short eight times round, each colour laid over the next: a print of the midday sun."""
    rays = chain(
        "Rays",
        Petal(length=116.0, width=19.0),
        Ink(colours="step", palette=("#F3B61F", "#F0803C", "#D1495B", "#F0803C"), blend="multiply", fill_opacity=82.0),
        Rosette(count=48, radius=78.0),
        Adjust(
            scope=EACH,
            along=Varied(rule="rays-rosette", channel="step", start=45.0, end=105.0, curve="there and back", repeats=8.0),
        ),
    )
    core = chain("Core", Ellipse(width=40.0), Ink(colours="one colour", palette=("#D1495B",), blend="multiply"))
    sheet = Sheet(width=290.0, height=290.0, background="#FBF1DC")
    layers = (veil("Print", Grain(amount=8.0, size=0.7)), core, rays)
    return Design(name="Sun deck", commission=COMMISSION, sheet=sheet, layers=layers, main="rays")


def sauna_door() -> Design:
    """One block of wood laid on itself twelve times, smaller and turned, and carved: a whirl drawn by its shadows alone."""
    blocks = chain(
        "Blocks",
        Polygon(sides=4, size=70.0, turn=45.0),
        Ink(colours="one colour", palette=("#CF9358",)),
        Relief(size=2.0, slope=46.0, direction=-125.0, height=42.0, light="#FFE6C4", shade="#4A2410", shade_opacity=62.0),
        Shadow(distance=1.6, direction=55.0, soft=1.4, colour="#3A1C0A", opacity=48.0),
        Progression(count=12, distance=0.0, across=84.5, along=84.5, turn=8.0),
        Lattice(form="squares", spacing="free", pitch=71.0, row_pitch=71.0),
    )
    sheet = Sheet(width=284.0, height=355.0, background="#6E4220")
    layers = (veil("Wood", Grain(amount=5.0, size=0.7)), blocks)
    return Design(name="Sauna door", commission=COMMISSION, sheet=sheet, layers=layers, main="blocks")


def sea_glass() -> Design:
    """Worn glass in sand: drops of few colours that go over into one another, each with a small light of its own."""
    drops = chain(
        "Glass",
        Ellipse(width=19.0),
        Ink(colours="noise", palette=("#E9F2E4", "#9BD3C2", "#3E9A98", "#1F6B7A", "#E6C48C"), run="as a ramp"),
        Lattice(form="hexagons on points", spacing="free", pitch=20.5),
        Relief(size=5.5, slope=44.0, light="#FFFFFF", shade="#0E3B43", shade_opacity=55.0, profile="round", direction=-120.0),
        Shadow(distance=1.4, direction=55.0, soft=1.3, colour="#5A4326", opacity=55.0),
    )
    sand = chain(
        "Sand",
        SheetMotif(inset=0.0),
        Ink(colours="one colour", palette=("#E4D2AE",)),
        Grain(amount=10.0, size=0.6, hues="coloured"),
    )
    sheet = Sheet(width=300.0, height=300.0, background="#E4D2AE")
    return Design(name="Sea glass", commission=COMMISSION, sheet=sheet, layers=(drops, sand), main="glass")
