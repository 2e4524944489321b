"""The flat colours of a scene, for formats that take each as an ink or a pen of its own."""

from __future__ import annotations

import numpy as np

from under_lattice.pattern.marks import Coat
from under_lattice.scene.tree import Scene, leaves

MOST = 64


def flat_colours(scene: Scene) -> tuple[str, ...]:
    """Return the opaque or translucent flat colours of a scene by hexadecimal figures, the most used first; `MOST` at most."""
    found: dict[str, int] = {}
    if scene.background:
        found[scene.background.upper()[:7]] = 1
    for layer in leaves(scene.layers):
        for coat in layer.picture.coats:
            for rgba, count in _of(coat):
                found[rgba] = found.get(rgba, 0) + count
    return tuple(sorted(found, key=lambda one: (-found[one], one)))[:MOST]


def _of(coat: Coat) -> list[tuple[str, int]]:
    out = []
    for values, flat in ((coat.fill, coat.paint is None or coat.lines), (coat.stroke, coat.paint is None or not coat.lines)):
        if flat:
            colours, counts = np.unique(values[values[:, 3] > 0][:, :3], axis=0, return_counts=True)
            out += [("#" + "".join(f"{v:02X}" for v in one), int(n)) for one, n in zip(colours.tolist(), counts, strict=True)]
    return out
