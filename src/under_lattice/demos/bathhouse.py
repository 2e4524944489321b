"""The demo works: each a commission for the Tern Harbour Bathhouse."""

from __future__ import annotations

from collections.abc import Callable

from under_lattice.rules.adjust import EACH, Adjust
from under_lattice.rules.anchor import Anchor
from under_lattice.rules.base import Rule
from under_lattice.rules.ink import Ink
from under_lattice.rules.lattice import Lattice
from under_lattice.rules.layer_end import LayerEnd
from under_lattice.rules.polygon import Polygon
from under_lattice.rules.push_edges import PushEdges
from under_lattice.rules.split import Split
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Chain, Design, Grid, Sheet, Work

COMMISSION = "Tern Harbour Bathhouse"


def chain(name: str, *rules: Rule, end: LayerEnd | None = None) -> Chain:
    """Return a layer whose rules have ids and handles made from the layer's name and their kinds."""
    handle, seen, named = name.lower().replace(" ", "-"), {}, []  # type: tuple[str, dict[str, int], list[Rule]]
    for rule in rules:
        seen[rule.kind] = seen.get(rule.kind, 0) + 1
        own = rule.kind if seen[rule.kind] == 1 else f"{rule.kind}-{seen[rule.kind]}"
        own = "motif" if rule.family == "motif" else own
        named.append(rule.model_copy(update={"id": f"{handle}-{own}", "handle": own}))
    ended = (end or LayerEnd()).model_copy(update={"id": f"{handle}-layer"})
    return Chain(id=handle, handle=handle, name=name, rules=tuple(named), end=ended)


def entrance_floor() -> Design:
    """Cubes that turn into waves: three rhombs of a hexagon, their edges pushed more from column to column."""
    floor = chain(
        "Floor",
        Polygon(size=36.0),
        Split(into="rhombs"),
        Ink(colours="part", palette=("#EFE4CF", "#C2694C", "#26374F")),
        PushEdges(amount=Varied(rule="floor-lattice", channel="column", start=0.0, end=5.4, curve="smooth")),
        Lattice(form="hexagons on points"),
    )
    return Design(name="Entrance floor", commission=COMMISSION, sheet=Sheet(background="#EFE4CF"), layers=(floor,))


def changing_room_screen() -> Design:
    """Turned squares in dropped columns: a square cut by four leaning chords, every second column half a square lower."""
    screen = chain(
        "Screen",
        Polygon(sides=4, size=36.0, stands="on a flat"),
        Split(into="chords", chords="1-s2, 2-s3, 3-s4, 4-s1"),
        Ink(
            colours="part",
            palette=("#1F4E5A", "#E9D8B4", "#1F4E5A", "#E9D8B4", "#1F4E5A", "#E9D8B4", "#1F4E5A", "#E9D8B4", "#D9893B"),
        ),
        Lattice(form="dropped columns", shift=50.0),
    )
    return Design(
        name="Changing-room screen",
        commission=COMMISSION,
        sheet=Sheet(width=300.0, height=340.0, background="#F3ECDD", grid=Grid(spacing=18.0)),
        layers=(screen,),
    )


def air_grille() -> Design:
    """Slots in a metal plate: hexagons that shrink and turn with their distance from the middle."""
    slots = chain(
        "Slots",
        Polygon(size=14.0),
        Ink(colours="one colour", palette=("#1D2A30",)),
        Lattice(form="hexagons on points", gap=0.6),
        Adjust(
            scope=EACH,
            across=Varied(rule="slots-lattice", channel="distance", start=34.0, end=104.0),
            along=Varied(rule="slots-lattice", channel="distance", start=96.0, end=46.0),
            turn=Varied(rule="slots-lattice", channel="distance", start=0.0, end=150.0),
            pivot=Anchor(),
        ),
    )
    return Design(
        name="Air grille", commission=COMMISSION, sheet=Sheet(width=260, height=300, background="#C9CDC9"), layers=(slots,)
    )


def towel_hem() -> Design:
    """Sails: triangles with alternate copies turned, bowed edges, a line over them from a second layer."""
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
    return Design(
        name="Dyed towels",
        commission=COMMISSION,
        sheet=Sheet(width=280, height=330, background="#F7EFE0"),
        layers=(pearls, sails),
    )


DEMOS: dict[str, Callable[[], Design]] = {
    "entrance-floor": entrance_floor,
    "changing-room-screen": changing_room_screen,
    "air-grille": air_grille,
    "dyed-towels": towel_hem,
}


def demo(name: str = "entrance-floor") -> Work:
    """Return a demo work by its short name."""
    return Work(design=DEMOS[name]())
