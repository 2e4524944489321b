"""What becomes of motions when a dial that moves is turned: the value hangs at the moment shown, or the whole motion goes along."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from under_lattice.declare.frozen import edited
from under_lattice.loop.hanging import difference, hang, link, numeric, put_at, shifted
from under_lattice.loop.moment import is_number, motion_at, stored, value_at
from under_lattice.vary.motion import Motion, Place
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design


def in_step(design: Design) -> Design:
    """Return the design with every motion beginning where its first dial stands: what was turned in other ways takes it along."""
    for motion in design.motions:
        new = _begun_at_dial(design, motion)
        if new is not motion:
            design = edited(design, motions=tuple(new if one is motion else one for one in design.motions))
    return design


def turned_at(before: Design, design: Design, time: float) -> Design:
    """Return the design with what was turned since `before` hung at a time of the loop, where it moves: turned by hand, it has its
    new value then and not always. Places that move along with others are moved for good.
    """
    for motion in design.motions:
        for place in motion.places:
            now = stored(design, place)
            if now is None or isinstance(now, Varied):
                continue
            if place == motion.places[0]:
                if _begun_at_dial(design, motion) is not motion:
                    design = hang(put_at(design, place, value_at(_unturned(design, motion), motion, place, 0.0)), place, time, now)
                    break
            elif is_number(now) and now != stored(before, place):
                closed = design.loop.closed
                by = float(motion.numbers(time, closed) - motion.numbers(0.0, closed))
                design = put_at(design, place, now - by) if by else design
    return in_step(design)


def _unturned(design: Design, motion: Motion) -> Design:
    """The design with the first dial of a motion where that begins."""
    first = motion.beads[0].value if not numeric(motion) else float(motion.numbers(0.0, design.loop.closed))
    return put_at(design, motion.places[0], first)


def _begun_at_dial(design: Design, motion: Motion) -> Motion:
    """A motion that begins where its first dial stands; the same one where it does."""
    place = next((one for one in motion.places if stored(design, one) is not None), None)
    own = stored(design, place) if place is not None else None
    if place is None or isinstance(own, Varied):
        return motion
    if numeric(motion) and is_number(own):
        shift = difference(own, motion.numbers(0.0, design.loop.closed))
        return shifted(motion, shift) if shift else motion
    if value_at(design, motion, place, 0.0) == own:
        return motion
    return edited(motion, beads=(edited(motion.beads[0], value=own), *motion.beads[1:]))


def hang_all(design: Design, places: Iterable[Place], time: float, value: Any) -> Design:
    """Return the design with one value hung for several dials that are turned as one; they move by one motion.

    Raises
    ------
    InputError
    """
    first, *others = places
    begun = motion_at(design, first) is None
    design = hang(design, first, time, value)
    motion = motion_at(design, first)
    for other in others:
        own = motion_at(design, other)
        if own is None and begun and motion is not None:
            design = link(design, motion.id, other)
        elif own is not None and own is not motion and own.id != (motion.id if motion is not None else ""):
            design = hang(design, other, time, value)
    return design
