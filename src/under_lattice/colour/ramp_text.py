"""Stops of a ramp as text: place and colour of each, its opacity and where halfway to the next lies if these are said.

``0 #EFE4CF; 45 #C2694C 60% (30); 100 #26374F``: places and middles in per cent.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache

from under_lattice.colour.colour import CLEAR, checked
from under_lattice.colour.ramp import Stop
from under_lattice.core.errors import InputError
from under_lattice.core.units import short

STOPS_MOST = 64
TEXT_MOST = 10_000  # letters: no list of stops that may be is longer
NUMBER = r"\d+(?:\.\d+)?|\.\d+"
STOP = re.compile(rf"\s*({NUMBER})\s*%?\s+([^\s;%(]+(?:\([^)]*\))?)\s*(?:({NUMBER})\s*%)?\s*(?:\(\s*({NUMBER})\s*%?\s*\))?\s*\Z")


@lru_cache(maxsize=256)
def stops_of_text(text: str) -> tuple[Stop, ...]:
    """Return the stops a text means, in the order of their places.

    Raises
    ------
    InputError
        Says which stop cannot be read, and what is allowed.
    """
    if len(text) > TEXT_MOST:
        raise InputError(f"a ramp has at most {STOPS_MOST} stops")
    words = [one for one in text.split(";") if one.strip()]
    if not 2 <= len(words) <= STOPS_MOST:
        raise InputError(f"a ramp has from 2 to {STOPS_MOST} stops, with ; between; there are {len(words)}")
    stops = sorted((_stop(one, k) for k, one in enumerate(words, 1)), key=lambda stop: stop.place)
    return tuple(one._replace(colour=_beside(stops, one)) if one.colour == CLEAR else one for one in stops)


def _beside(stops: list[Stop], clear: Stop) -> str:
    """The colour of the stop that is nearest to a clear one: what fades keeps its colour."""
    seen = [one for one in stops if one.colour != CLEAR]
    return min(seen, key=lambda one: abs(one.place - clear.place)).colour if seen else "#808080"


def _stop(text: str, k: int) -> Stop:
    found = STOP.match(text)
    if found is None:
        raise InputError(f"stop {k}, “{text.strip()[:30]}”, cannot be read; write place, colour and opacity like 45 #C2694C 60%")
    place, colour, alpha, middle = found.groups()
    for words, value in (("place", place), ("opacity", alpha), ("middle", middle)):
        if value is not None and float(value) > 100:
            raise InputError(f"stop {k}: its {words} is {value}; it may be from 0 to 100 %")
    try:
        colour = checked(colour)
    except InputError as error:
        raise InputError(f"stop {k}: {error.message}") from None
    return Stop(float(place) / 100, colour, 0.0 if colour == CLEAR else float(alpha or 100) / 100, float(middle or 50) / 100)


def text_of_stops(stops: Iterable[Stop]) -> str:
    """Return stops as text, in the order of their places."""
    out = []
    for stop in sorted(stops, key=lambda stop: stop.place):
        alpha = f" {short(100 * stop.alpha, 2)}%" if stop.alpha < 1 else ""
        middle = f" ({short(100 * stop.middle, 2)})" if abs(stop.middle - 0.5) > 1e-9 else ""
        out.append(f"{short(100 * stop.place, 2)} {stop.colour}{alpha}{middle}")
    return "; ".join(out)
