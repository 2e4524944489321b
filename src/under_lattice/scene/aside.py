"""What is special about a tree, and what someone who goes through it leaves aside: it is said, never dropped without a word."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from under_lattice.scene.tree import Node, SceneGroup, SceneVeil

Special = Literal["blend modes", "opacity of groups", "clips", "masks", "finishes"]


def specials_of(layers: Iterable[Node]) -> set[Special]:
    """Return what stands in a tree beyond shapes with their coats."""
    found: set[Special] = set()
    for layer in layers:
        if isinstance(layer, SceneVeil):
            found.add("finishes")
            continue
        if layer.clip is not None:
            found.add("clips")
        if layer.mask is not None:
            found.add("masks")
        if layer.blend != "normal":
            found.add("blend modes")
        if isinstance(layer, SceneGroup):
            if layer.opacity < 1:
                found.add("opacity of groups")
            found |= specials_of(layer.members)
            continue
        if layer.picture.closed:
            found.add("finishes")
        if any(coat.blend != "normal" for coat in layer.picture.coats):
            found.add("blend modes")
    return found


def left_aside(who: str, layers: Iterable[Node], can: Iterable[Special] = ()) -> str:
    """Return in a sentence what `who` cannot do of a tree, or nothing."""
    rest = sorted(specials_of(layers) - set(can))
    return f"{who} leaves {', '.join(rest)} aside" if rest else ""
