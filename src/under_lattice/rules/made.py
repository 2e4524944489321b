"""Rules that other rooms ask for by what they need, without naming a kind: a motif of given outlines, of a picture, of a layer."""

from __future__ import annotations

from under_lattice.rules.base import Rule
from under_lattice.rules.families import MotifRule
from under_lattice.rules.motifs.frozen_motif import FrozenMotif
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.picture_motif import PictureMotif
from under_lattice.rules.paints.ink import Ink


def motif_of_shapes(shapes: str) -> MotifRule:
    """Return a motif of separate shapes with their inks, by their text."""
    return FrozenMotif(handle="frozen", shapes=shapes)


def motif_of_layer(layer: str) -> MotifRule:
    """Return a motif that is another layer or group, by its id, as it lies."""
    return LayerMotif(handle="layer-motif", layer=layer, stands="as it lies")


def motif_of_outline(outline: str, width: float = 0.0) -> MotifRule:
    """Return a motif of outlines, by their path text; `width` in the work's unit, their own when it is 0."""
    return Outline(outline=outline, width=width) if width else Outline(outline=outline)


def motif_of_picture(picture: str, width: float) -> MotifRule:
    """Return a motif that is a picture of the work, by its id; `width` in the work's unit."""
    return PictureMotif(picture=picture, width=width)


def ink_by_part(palette: tuple[str, ...]) -> Rule:
    """Return an ink that gives each part of the motif a colour of its own."""
    return Ink(handle="ink", colours="part", palette=palette)
