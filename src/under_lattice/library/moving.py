"""What moves in the demo works: the string of time of each, by its short name."""

from __future__ import annotations

from collections.abc import Callable

from under_lattice.declare.frozen import edited
from under_lattice.library.rounds import GOLDEN
from under_lattice.vary.motion import Bead, Lag, Motion, Place
from under_lattice.work.model import Design, Loop


def _place(layer: str, rule: str, dial: str) -> Place:
    return Place(layer=layer, rule=f"{layer}-{rule}", dial=dial)


def _swing(name: str, place: Place, low: float, high: float, lag: Lag | None = None, times: int = 1) -> Motion:
    """A number that swings between two values."""
    beads = Bead(time=0.0, value=low), Bead(time=0.5, value=high)
    return Motion(id=name, places=(place,), beads=beads, course="swing", lag=lag, times=times)


def _through(name: str, places: tuple[Place, ...], first: float, last: float) -> Motion:
    """A number that goes evenly from the beginning of the loop to its end."""
    return Motion(id=name, places=places, beads=(Bead(time=0.0, value=first), Bead(time=1.0, value=last)))


def _lobby_panel(design: Design) -> Design:
    """Rings of light widen one after the other, and the dusk goes through its colours; the words stand still."""
    dusk = _through("dusk", (Place(layer="dusk", rule="dusk-tones-to-colours", dial="shift"),), 0.0, 100.0)
    halos = _swing("halos", _place("halos", "ink", "stroke_width"), 1.2, 9.0, Lag(rule="halos-spots", channel="step"))
    return edited(design, motions=(halos, dusk), loop=Loop(seconds=8.0))


def _seed_clock(design: Design) -> Design:
    """The divergence breathes about the golden angle, and the hands go round."""
    breath = Motion(
        id="breath",
        places=(_place("seeds", "seed-head", "angle"),),
        beads=(
            Bead(time=0.0, value=GOLDEN, way="gentle"), Bead(time=0.25, value=GOLDEN + 0.42, way="gentle"),
            Bead(time=0.5, value=GOLDEN, way="gentle"), Bead(time=0.75, value=GOLDEN - 0.42, way="gentle"),
        ),
    )  # fmt: skip
    hands = _through("hands", (_place("hands", "layer", "place_turn"),), 0.0, 360.0)
    return edited(design, motions=(breath, hands), loop=Loop(seconds=12.0))


def _changing_room_screen(design: Design) -> Design:
    """The rays open and close as a wave from left to right."""
    wave = _swing("rays", _place("screen", "contact-lines", "angle"), 38.0, 68.0, Lag(rule="screen-lattice", channel="x"))
    return edited(design, motions=(wave,), loop=Loop(seconds=6.0))


def _festival_poster(design: Design) -> Design:
    """Each square goes where the next but one stood: a zoom without end, since every second has the same colour."""
    zoom = _through("zoom", (_place("whirls", "progression", "begins"),), -400.0, -200.0)
    return edited(design, motions=(zoom,), loop=Loop(seconds=4.0))


def _indigo_towel(design: Design) -> Design:
    """The three bursts go round together, each from where it stands."""
    bursts = ("right-burst", "left-burst", "low-burst")
    places = tuple(Place(layer=one, rule=f"{one}-motif", dial="turn") for one in bursts)
    return edited(design, motions=(_through("dye", places, 9.0, 369.0),), loop=Loop(seconds=10.0))


def _pool_floor(design: Design) -> Design:
    """The three ripples go on, each by whole waves, so that the water is where it was."""
    begins = {"ripple": 0.0, "ripple-2": 90.0, "ripple-3": 0.0}
    waves = [
        _through(kind, (Place(layer="water", rule=f"water-{kind}", dial="phase"),), first, first + 360.0)
        for kind, first in begins.items()
    ]
    return edited(design, motions=tuple(waves), loop=Loop(seconds=6.0))


def _moon_pool(design: Design) -> Design:
    """The far rings swing to the other side of the near ones and back; all that is seen to move is between them."""
    aside = _swing("aside", _place("far", "motif", "place_x"), 16.0, -48.0)
    return edited(design, motions=(aside,), loop=Loop(seconds=10.0))


MOVING: dict[str, Callable[[Design], Design]] = {
    "lobby-panel": _lobby_panel,
    "seed-clock": _seed_clock,
    "changing-room-screen": _changing_room_screen,
    "festival-poster": _festival_poster,
    "indigo-towel": _indigo_towel,
    "pool-floor": _pool_floor,
    "moon-pool": _moon_pool,
}
