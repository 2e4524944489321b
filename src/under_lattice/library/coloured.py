"""Demo works whose colours come of ramps: lamps behind panes, and tiles of which each cell has one colour."""

from __future__ import annotations

from under_lattice.declare.frozen import edited
from under_lattice.library.layers import COMMISSION, chain, veil
from under_lattice.rules import Adjust, Ellipse, Ink, Lattice, Lettering, Polygon, SheetMotif, Spots, TonesToColours
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet

AMBER, ROSE, SEA = "#F4A23A", "#D9496B", "#2E8FA8"


def lamps(name: str, width: float, spots: str, colour: str) -> Chain:
    """Return a layer of lamps that fade outwards and add their light to what is beneath."""
    glow = f"0 {colour}; 38 {colour} 62% (60); 100 {colour} 0%"
    layer = chain(
        name, Ellipse(width=width), Ink(colours="one colour", inside="round ramp", palette=(colour,), ramp=glow), Spots(spots=spots)
    )
    return edited(layer, end=edited(layer.end, blend="screen"))


def lobby_panel() -> Design:
    """Dark panes with an even gap and a pale gleam on each, coloured lamps behind them, and a shade over all."""
    panes = chain(
        "Panes",
        Polygon(size=23.0),
        Ink(colours="one colour", palette=("#141D33",), fill_opacity=86.0),
        Ink(
            colours="one colour",
            inside="straight ramp",
            palette=("#F3E9D2",),
            ramp="0 #F3E9D2 46%; 30 #F3E9D2 12%; 55 #F3E9D2 0%; 100 #F3E9D2 0%",
            ramp_angle=60.0,
            coat="on top",
        ),
        Lattice(form="hexagons on points", gap=2.6),
    )
    shade = chain(
        "Shade",
        SheetMotif(inset=0.0),
        Ink(
            colours="one colour",
            inside="round ramp",
            ramp="0 #FFFFFF; 45 #F1EEF6; 100 #5A6288",
            ramp_across=42.0,
            ramp_down=36.0,
            ramp_reach=120.0,
        ),
    )
    halos = chain(
        "Halos",
        Ellipse(width=46.0),
        Ink(colours="none", stroke="one colour", stroke_colour="#FFE9C4", stroke_width=1.2, stroke_opacity=46.0),
        Spots(spots="-84, -112; 58, 20; -48, 120; 60, -118; -88, 40; 96, 128; -8, -42"),
    )
    dusk = veil("Dusk", TonesToColours(ramp="0 #0B1122; 34 #4A2C6E; 67 #E0763C; 100 #0B1122", shift=0.0))
    words = Lettering(text="tern harbour", size=19.0, spacing=22.0)
    sign = chain("Sign", words, Ink(colours="one colour", palette=("#FBF3E1",)), Adjust(y=152.0))
    layers = (
        sign,
        edited(dusk, end=edited(dusk.end, opacity=26.0, blend="soft-light")),
        halos,
        edited(shade, end=edited(shade.end, blend="multiply")),
        panes,
        lamps("Amber lamps", 150.0, "-84, -112, 0, 110; 58, 20, 0, 130; -48, 154, 0, 90", AMBER),
        lamps("Rose lamps", 170.0, "60, -118, 0, 100; -88, 40, 0, 120", ROSE),
        lamps("Sea lamps", 180.0, "-8, -42, 0, 85; 96, 128, 0, 130", SEA),
    )
    sheet = Sheet(width=300, height=350, background="#0B1122")
    return Design(name="Lobby panel", commission=COMMISSION, sheet=sheet, layers=layers, main="panes")


def locker_tiles() -> Design:
    """Tiles of six by six cells, each cell in the one colour a slanting ramp has there, half-dropped."""
    cells = chain(
        "Cells",
        Polygon(sides=4, measure="side", size=8.0, stands="on a flat"),
        Lattice(form="squares", extent="by number", columns=6, rows=6, gap=0.6),
        Ink(
            colours="one colour",
            inside="straight ramp",
            ramp_taken="one colour a copy",
            ramp_of="all copies",
            ramp_angle=45.0,
            mixing="Oklab",
            ramp="0 #FBF3E1; 34 #F2B45F; 62 #C2553E; 100 #2B2748",
        ),
        Lattice(form="dropped columns", gap=3.6),
    )
    sheet = Sheet(width=273, height=273, background="#F4EDE1")
    return Design(name="Locker tiles", commission=COMMISSION, sheet=sheet, layers=(cells,))
