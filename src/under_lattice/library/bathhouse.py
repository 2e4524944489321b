"""The demo works: each a commission for the Tern Harbour Bathhouse."""

from __future__ import annotations

from collections.abc import Callable

from under_lattice.library import drawn, lines, linked, rounds, seen
from under_lattice.library.layers import COMMISSION, chain
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
from under_lattice.work.model import Design, Grid, Sheet, Work


def entrance_floor() -> Design:
    """Cubes that turn into waves: three rhombs of a hexagon, their edges pushed more from column to column; a border with gulls."""
    floor = chain(
        "Floor",
        Polygon(size=36.0),
        Split(into="rhombs"),
        Ink(colours="part", palette=("#EFE4CF", "#C2694C", "#26374F")),
        PushEdges(amount=Varied(rule="floor-lattice", channel="column", start=0.0, end=5.4, curve="smooth")),
        Lattice(form="hexagons on points"),
    )
    gulls = chain(
        "Gulls",
        DrawnCurve(tolerance=0.2),
        Ink(colours="step", palette=("#EFE4CF", "#E4B45C", "#EFE4CF", "#C2694C")),
        AlongCurve(line="the sheet's edge", inset=11.0, spacing="by number", count=48, begin=100 / 96, size=28.0),
    )
    border = chain(
        "Border",
        SheetMotif(inset=0.0),
        Offset(distance=-22.0, rings=1),
        Combine(how="first less the rest", of="the parts of each copy"),
        Ink(colours="one colour", palette=("#26374F",), stroke="one colour", stroke_colour="#E4B45C", stroke_width=1.6),
    )
    sheet = Sheet(background="#EFE4CF")
    return Design(name="Entrance floor", commission=COMMISSION, sheet=sheet, layers=(gulls, border, floor))


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
        Ink(colours="one colour", palette=("#1D2A30",)),
        Lattice(form="hexagons on points", spacing="free", pitch=12.0),
        Adjust(
            scope=EACH,
            across=Varied(rule="slots-lattice", channel="distance", start=22.0, end=72.0),
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
    return Design(name="Dyed towels", commission=COMMISSION, sheet=sheet, layers=(pearls, sails))


def deck_chair() -> Design:
    """Canvas stripes whose waves interlock, still at the top and higher towards the bottom."""
    stripes = chain(
        "Stripes",
        Rectangle(width=384.0, height=17.5),
        WaveEdges(by="wavelength", wavelength=48.0, height=Varied(rule="stripes-lattice", channel="y", start=0.0, end=9.5)),
        Ink(colours="row", palette=("#A83232", "#F4E6CB", "#E0A23C", "#F4E6CB", "#A83232", "#27495A", "#F4E6CB")),
        Lattice(form="squares"),
    )
    sheet = Sheet(width=300, height=350, background="#F4E6CB")
    return Design(name="Deck-chair canvas", commission=COMMISSION, sheet=sheet, layers=(stripes,))


def lobby_panel() -> Design:
    """Lamps: hexagons of six triangles, coloured by chance, that shrink and turn from left to right."""
    lamps = chain(
        "Lamps",
        Polygon(size=24.0),
        Split(into="triangles"),
        Ink(colours="chance", palette=("#F6D58A", "#EE9C5B", "#C9566B", "#6C5BA7", "#2F6F9F"), seed=7),
        Lattice(form="hexagons on points", gap=0.8),
        Adjust(
            scope=EACH,
            across=Varied(rule="lamps-lattice", channel="column", start=100.0, end=26.0, curve="smooth"),
            along=Varied(rule="lamps-lattice", channel="column", start=100.0, end=26.0, curve="smooth"),
            turn=Varied(rule="lamps-lattice", channel="column", start=0.0, end=90.0),
        ),
    )
    sheet = Sheet(width=300, height=350, background="#101A2B")
    return Design(name="Lobby panel", commission=COMMISSION, sheet=sheet, layers=(lamps,))


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
    "locker-doors": linked.locker_doors,
    "foot-bath-fish": seen.foot_bath,
    "kelp-curtain": lines.kelp_curtain,
    "deck-chair-canvas": deck_chair,
    "lobby-panel": lobby_panel,
}


def demo(name: str = "entrance-floor") -> Work:
    """Return a demo work by its short name, with the versions kept of it; one of them lies under a test strip."""
    design = DEMOS[name]()
    return Work(design=design, kept=versions_of(name, design), strip=STRIPS.get(name))
