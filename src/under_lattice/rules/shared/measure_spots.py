"""Handles for measures that are no length from the middle: angles, turns, proportions; dragging finds the value that fits."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

import numpy as np

from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, NumberDial
from under_lattice.geometry.affine import Array, linear
from under_lattice.pattern.ask import rest
from under_lattice.rules.handles import Drag, Handle, with_start

Values = Mapping[str, Any]  # by dial, numbers at their starts
TURN_AT = -35.0  # degrees: where the bead of a turn stands while that is none
TURN_OUT = 1.22  # of the reach of the motif
SCANNED = 241  # values all over the range, since a bead may come by the same place twice
CLOSER, FINER = 13, 8  # values about the best of them, so many times: to a millionth of what lay between two


class Spot(NamedTuple):
    """A measure, and where its bead stands in the motif's own place before it is turned.

    With `again` it stands in the same place for values so far apart; the nearest to the present one is taken. An `even` one goes
    along a straight line, as far for each step of the value.
    """

    dial: str
    place: Callable[[Values], tuple[float, float]]
    again: float = 0.0
    even: bool = False


def at_polar(radius: float, degrees: float) -> tuple[float, float]:
    """Return a place by distance and direction, degrees clockwise from the right."""
    angle = np.radians(degrees)
    return float(radius * np.cos(angle)), float(radius * np.sin(angle))


def values_of(motif: Any) -> dict[str, Any]:
    """Return all dials of a motif, numbers at their starts."""
    dials = motif.dials()
    return {
        name: rest(getattr(motif, name)) if isinstance(dial, NumberDial) else getattr(motif, name) for name, dial in dials.items()
    }


def spot_handles(motif: Any, spots: Iterable[Spot], unit: str) -> list[Handle]:
    """Return a bead for each measure that has an effect now."""
    values, turned = values_of(motif), linear(float(getattr(motif, "turn", 0.0)))[:, :2]
    out = []
    for spot in spots:
        dial = motif.dials()[spot.dial]
        if not motif.idle(spot.dial):
            own = dial.unit or unit
            said = f"{values[spot.dial]:.{dial.digits}f}{'' if own == '°' else ' '}{own} {dial.label.lower()}"
            out.append(Handle(spot.dial, turned @ np.array(spot.place(values)), said, "bead"))
    return out


def spot_dragged(motif: Any, spots: Iterable[Spot], drag: Drag) -> dict[str, Any]:
    """Return the measure at which its bead stands nearest to where it was dragged; the search stays about the present value."""
    spot = next((one for one in spots if one.dial == drag.name), None)
    if spot is None:
        return {}
    dial, values = motif.dials()[spot.dial], values_of(motif)
    to = drag.to @ linear(float(getattr(motif, "turn", 0.0)))[:, :2]
    now = values[spot.dial]

    def place(value: float) -> Array:
        return np.array(spot.place({**values, spot.dial: value}))

    if spot.even:
        best = _along(place, to, now)
    elif spot.again:
        best = _nearest(place, to, max(dial.least, now - spot.again / 2), min(dial.most, now + spot.again / 2))
    else:
        best = _nearest(place, to, max(dial.least, min(dial.slides[0], now)), min(dial.most, max(dial.slides[1], now)))
    best = drag.angle(best) if isinstance(dial, Angle) and abs(best) <= 180 else round(best, max(dial.digits, 1))
    return {spot.dial: with_start(getattr(motif, spot.dial), float(np.clip(best, dial.least, dial.most)))}


def _along(place: Callable[[float], Array], to: Array, value: float) -> float:
    """The value whose place on a straight line lies nearest, by the step from a value to the next."""
    begin, way = place(value), place(value + 1.0) - place(value)
    return value + float((to - begin) @ way / max(float(way @ way), 1e-12))


def _nearest(place: Callable[[float], Array], to: Array, low: float, high: float) -> float:
    """The value whose place lies nearest: looked for all over the range, then closer and closer about the best."""
    least, most = low, high
    for count in (SCANNED, *[CLOSER] * FINER):
        tried = np.linspace(low, high, count)
        best = float(tried[np.hypot(*(np.array([place(float(one)) for one in tried]) - to).T).argmin()])
        step = (high - low) / (count - 1)
        low, high = max(least, best - step), min(most, best + step)
    return best


def turn_handle(motif: Any, ring: Array, unit: str) -> Handle | None:
    """Return the bead that turns a motif about its origin; it stands outside its reach, in degrees."""
    if "turn" not in motif.dials():
        return None
    far = TURN_OUT * float(np.hypot(*ring.T).max())
    return Handle(
        "turn", np.array(at_polar(far, motif.turn + TURN_AT)), f"{short(motif.turn)}° {motif.dials()['turn'].label.lower()}", "bead"
    )


def turn_dragged(drag: Drag) -> dict[str, Any]:
    """Return the turn at which the bead points to where it was dragged."""
    return {"turn": drag.angle(float(np.degrees(np.arctan2(drag.to[1], drag.to[0]))) - TURN_AT)}
