"""The demo works: each a commission for the Tern Harbour Bathhouse."""

from __future__ import annotations

from collections.abc import Callable

from under_lattice.library import coloured, drawn, filled, finished, lines, rounds, seen, shore
from under_lattice.library.layers import COMMISSION, chain
from under_lattice.library.moving import MOVING
from under_lattice.library.versions import STRIPS, versions_of
from under_lattice.rules import (
    Adjust,
    AlongCurve,
    Combine,
    DrawnCurve,
    Ink,
    Lattice,
    Offset,
    Polygon,
    PushEdges,
    Rectangle,
    SheetMotif,
    Split,
    WaveEdges,
)
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, ExportChoice, Grid, Sheet, Work


def entrance_floor() -> Design:
    """Cubes that turn into waves: three rhombs of a hexagon, their edges pushed more from column to column; a border with gulls."""
    floor = chain(
        "Floor",
        Polygon(size=36.0),
        Split(into="rhombs"),
        Ink(colours="part", palette=("#EFE4CF", "#C2694C", "#26374F")),
        PushEdges(amount=Varied(rule="floor-lattice", channel="column", start=0.0, end=5.4, curve="smooth")),
        Lattice(form="hexagons on points", extent="whole copies inside", margin=-9.0),
    )
    gulls = chain(
        "Gulls",
        DrawnCurve(tolerance=0.2),
        Ink(colours="step", palette=("#EFE4CF", "#E4B45C", "#EFE4CF", "#C2694C")),
        AlongCurve(line="the sheet's edge", inset=7.5, spacing="by number", count=48, begin=100 / 96, size=22.0, facing="upright"),
    )
    border = chain(
        "Border",
        SheetMotif(inset=0.0),
        Offset(distance=-15.0, rings=1),
        Combine(how="first less the rest", of="the parts of each copy"),
        Ink(colours="one colour", palette=("#26374F",), stroke="one colour", stroke_colour="#E4B45C", stroke_width=1.6),
    )
    sheet = Sheet(background="#EFE4CF")
    return Design(name="Entrance floor", commission=COMMISSION, sheet=sheet, layers=(gulls, border, floor), main="floor")


def plunge_pool() -> Design:
    """Turned squares in dropped columns: a square cut by four leaning chords, every second column half a square lower."""
    tiles = chain(
        "Tiles",
        Polygon(sides=4, size=36.0, stands="on a flat"),
        Split(into="chords", chords="1-s2, 2-s3, 3-s4, 4-s1"),
        Ink(
            colours="part",
            palette=("#1F4E5A", "#E9D8B4", "#1F4E5A", "#E9D8B4", "#1F4E5A", "#E9D8B4", "#1F4E5A", "#E9D8B4", "#D9893B"),
        ),
        Lattice(form="dropped columns", shift=50.0),
    )
    sheet = Sheet(width=300.0, height=340.0, background="#F3ECDD", grid=Grid(spacing=18.0))
    return Design(name="Plunge pool", commission=COMMISSION, sheet=sheet, layers=(tiles,))


def air_grille() -> Design:
    """Slots in a metal plate: lozenges that widen and turn with their distance from the middle."""
    slots = chain(
        "Slots",
        Polygon(sides=4, measure="circumradius", size=7.0),
        Ink(colours="distance", palette=("#1D2A30", "#1D2A30", "#8C4A2F"), run="as a ramp"),
        Lattice(form="hexagons on points", spacing="free", pitch=14.4),
        Adjust(
            scope=EACH,
            across=Varied(rule="slots-lattice", channel="distance", start=22.0, end=66.0),
            turn=Varied(rule="slots-lattice", channel="distance", start=0.0, end=200.0),
            pivot=Anchor(),
        ),
    )
    sheet = Sheet(width=260, height=300, background="#C9CDC9")
    return Design(name="Air grille", commission=COMMISSION, sheet=sheet, layers=(slots,))


def dyed_towels() -> Design:
    """Sails: triangles with alternate copies turned, edges in waves that calm down, pearls from a second layer."""
    sails = chain(
        "Sails",
        Polygon(sides=3, measure="side", size=40.0, stands="on a flat"),
        Split(into="triangles"),
        Ink(colours="part", palette=("#F2C879", "#D9674E", "#7A2E46")),
        PushEdges(profile="S", amount=Varied(rule="sails-lattice", channel="row", start=4.4, end=0.0)),
        Lattice(form="triangles"),
    )
    pearls = chain(
        "Pearls",
        Polygon(sides=12, measure="circumradius", size=2.2),
        Ink(colours="one colour", palette=("#FBF3E1",), stroke="one colour", stroke_colour="#7A2E46", stroke_width=0.6),
        Lattice(form="hexagons on points", spacing="free", pitch=40.0),
        Adjust(x=0.0, y=-23.094),
    )
    sheet = Sheet(width=280, height=330, background="#F7EFE0")
    return Design(name="Dyed towels", commission=COMMISSION, sheet=sheet, layers=(pearls, sails), main="sails")


def deck_chair() -> Design:
    """Canvas stripes whose waves interlock, still at the top and higher towards the bottom."""
    red, cream, gold, sea = "#A83232", "#F4E6CB", "#DB9A35", "#1F4657"
    stripes = chain(
        "Stripes",
        Rectangle(width=360.0, height=7.3),
        WaveEdges(by="wavelength", wavelength=60.0, height=Varied(rule="stripes-lattice", channel="y", start=0.0, end=15.0)),
        Ink(
            colours="row",
            palette=(red, red, red, cream, sea, cream, gold, gold, cream, sea, cream, cream),
        ),
        Lattice(form="squares", gap=-0.3),  # each wave is a little higher than the one above it
    )
    sheet = Sheet(width=300, height=350, background=cream)
    return Design(name="Deck-chair canvas", commission=COMMISSION, sheet=sheet, layers=(stripes,))


DEMOS: dict[str, Callable[[], Design]] = {
    "entrance-floor": entrance_floor,
    "plunge-pool": plunge_pool,
    "air-grille": air_grille,
    "dyed-towels": dyed_towels,
    "festival-poster": rounds.festival_poster,
    "ceiling-rosette": rounds.ceiling_rosette,
    "seed-clock": rounds.seed_clock,
    "tide-rings": rounds.tide_rings,
    "coat-hooks": rounds.coat_hooks,
    "wash-room-tiles": rounds.wash_room_tiles,
    "steam-room-window": rounds.steam_window,
    "rope-mat": rounds.rope_mat,
    "life-rings": lines.life_rings,
    "changing-room-screen": drawn.changing_room_screen,
    "tea-room-frieze": drawn.tea_room_frieze,
    "porthole": drawn.porthole,
    "ticket-engraving": drawn.ticket,
    "locker-doors": filled.locker_doors,
    "foot-bath-fish": seen.foot_bath,
    "kelp-curtain": lines.kelp_curtain,
    "deck-chair-canvas": deck_chair,
    "lobby-panel": coloured.lobby_panel,
    "locker-tiles": coloured.locker_tiles,
    "terrace-screen": finished.terrace_screen,
    "carved-ceiling": finished.carved_ceiling,
    "vent-plate": finished.vent_plate,
    "indigo-towel": seen.indigo_towel,
    "foot-bath-print": seen.foot_bath_print,
    "tide-board": filled.tide_board,
    "harbour-window": filled.harbour_window,
    "pool-floor": shore.pool_floor,
    "pilot-light": shore.pilot_light,
    "school-of-fish": shore.school,
    "sauna-door": shore.sauna_door,
    "tide-wall": shore.tide_wall,
    "paper-lamps": shore.paper_lamps,
    "nautilus": shore.nautilus,
    "drying-net": shore.drying_net,
    "moon-pool": shore.moon_pool,
    "sun-deck": shore.sun_deck,
    "rain": shore.rain,
    "sea-glass": shore.sea_glass,
}

WAYS_OUT = {  # how each goes out to whom it is made for
    "tea-room-frieze": ExportChoice(ending="png", options={"part": "the cell", "width": 1200}),
    "ticket-engraving": ExportChoice(ending="hpgl", options={"paper": "A4", "fills": "none", "pens": "#2B4C7E, #B5472F"}),
    "air-grille": ExportChoice(ending="cutter", options={"kerf": 0.2}),
    "changing-room-screen": ExportChoice(ending="3mf", options={"stands": "through a plate", "plate": 3.0}),
    "entrance-floor": ExportChoice(ending="pdf", options={"bleed": 3.0, "marks": True, "pages": "one for each ink"}),
}


def demo(name: str = "entrance-floor") -> Work:
    """Return a demo work by its short name, with the versions kept of it; one lies under a test strip, some have a way out."""
    design = DEMOS[name]()
    if name in MOVING:
        design = MOVING[name](design)
    return Work(design=design, kept=versions_of(name, design), strip=STRIPS.get(name), export=WAYS_OUT.get(name))
