"""Copies of layers move as what they are copies of."""

from __future__ import annotations

from collections.abc import Iterable

from under_lattice.declare.frozen import edited
from under_lattice.vary.motion import PLACES_MOST, Motion, Place
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import MOTIONS_MOST, Design, new_id


def moving_along(design: Design, layer: AnyLayer, copy: AnyLayer) -> Design:
    """Return the design in which a copy of a layer moves along with it; waves run through each by themselves."""
    ids, out = _ids_of(layer, copy), []
    for motion in design.motions:
        copied = _places(motion, ids)
        together = motion.lag is None and len(motion.places) + len(copied) <= PLACES_MOST
        out.append(edited(motion, places=(*motion.places, *copied)) if copied and together else motion)
        if copied and not together:
            out.append(_renamed(motion, copied, ids))
    return edited(design, motions=tuple(out[:MOTIONS_MOST])) if out != list(design.motions) else design


def moving_as(design: Design, motions: Iterable[Motion], layer: AnyLayer, copy: AnyLayer) -> Design:
    """Return the design in which a copy of a layer of another work moves as that did there, by motions of its own."""
    ids = _ids_of(layer, copy)
    new = [_renamed(motion, copied, ids) for motion in motions if (copied := _places(motion, ids))]
    return edited(design, motions=(*design.motions, *new)[:MOTIONS_MOST]) if new else design


def _ids_of(layer: AnyLayer, copy: AnyLayer) -> dict[str, str]:
    """The ids of a copy, by those of what it is a copy of."""
    ids: dict[str, str] = {}
    for one, other in zip(layer.walk(), copy.walk(), strict=True):
        ids[one.id] = other.id
        ids |= {rule.id: its.id for rule, its in zip(one.every_rule, other.every_rule, strict=True)}
    return ids


def _places(motion: Motion, ids: dict[str, str]) -> tuple[Place, ...]:
    return tuple(
        edited(one, layer=ids[one.layer], rule=ids[one.rule]) for one in motion.places if one.layer in ids and one.rule in ids
    )


def _renamed(motion: Motion, places: tuple[Place, ...], ids: dict[str, str]) -> Motion:
    lag = motion.lag and edited(motion.lag, rule=ids.get(motion.lag.rule, motion.lag.rule))
    return edited(motion, id=new_id(), places=places, lag=lag)
