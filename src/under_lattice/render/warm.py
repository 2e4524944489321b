"""Compiling the kernels: once for each version and person, in a process of its own."""

from __future__ import annotations

import subprocess
import sys
from typing import Any

import numpy as np

from under_lattice.colour.effects import Blur, Contour, Relief, Ripple, Smear, Streak
from under_lattice.core.kernel_cache import folder, sources
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, polygon_verbs
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.pattern.stage import Family
from under_lattice.render.desk import Desk
from under_lattice.render.kernel_blend import fade
from under_lattice.scene.tree import Scene, SceneLayer, View

READY = "ready"
FINISHES = (
    Blur(1.0),
    Blur(9.0),
    Blur(1.0, 30.0),
    Contour(1.0, 0.0, (0.0, 0.0, 0.0), 1.0),
    Streak(True, 9.0),
    Ripple(9.0, 1.0),
    Smear(1.0, 1.0),
    Relief(2.0, 2.0, 40.0, 0.0),
)


def is_warm() -> bool:
    """Tell whether the kernels have been compiled and kept."""
    return (folder() / READY).exists()


def share_ready() -> float:
    """Tell how much of the compiling is done, 0..1: kernels kept so far over kernels there are."""
    lines = [line for source in sources() for line in source.read_text().splitlines()]
    wanted = sum(line.startswith("@njit") and "inline" not in line for line in lines)
    kept = {path.name.split(".")[1] for path in folder().rglob("*.nbi")}
    return min(1.0, len(kept) / max(1, wanted))


def warm() -> None:
    """Compile every kernel, half of them in a second process, then note that it is done. Two at once do no harm.

    The other begins with what paints pixels. By then this one has what places edges, which both need, and goes on with the rest.
    """
    other = None if is_warm() else _elsewhere("sweep_and_paint")
    try:
        look()
        rest()
        if other is not None:
            other.wait()
        paint_small()
    finally:
        if other is not None:
            other.kill()
    if folder().is_dir():
        (folder() / READY).touch()


def sweep_and_paint() -> None:
    """Paint a small scene, after what takes longest of it."""
    from under_lattice.render import kernel_sweep as sweeps

    desk, one, to, many = Desk.new(24), np.float32(1.0), np.eye(2, 3), np.ones((1, 4), np.float32)
    into, run, sums, masks, wide = desk.pixels, desk.run, desk.acc.ravel(), (desk.mask, desk.solid), desk.acc.shape[1]
    rule: Any = np.int32(0)  # of the kind an item has, which the compiler tells from a plain number
    paint: Any = (many, many, np.zeros((1, 4), np.int64), 1)
    sweeps.sweep_clear(into, sums, wide, desk.mask, 0, 0, one, one, one, one, rule, rule)
    sweeps.sweep_opaque_paint(run, 24, sums, wide, *masks, 0, 0, 0, 0, 0, to, rule, *paint)
    sweeps.sweep_paint(into, sums, wide, desk.mask, 0, 0, 0, 0, 0, to, one, rule, rule, *paint)
    sweeps.sweep_opaque(run, 24, sums, wide, *masks, 0, 0, one, one, one, rule)
    paint_small()


def _small() -> tuple[Scene, View, Picture]:
    """A triangle whose every kind of paint asks for kernels of its own."""
    one = np.zeros(1, np.int32)
    marks = Marks(
        (Family(polygon_verbs(3), np.array([[(0.0, 0.0), (9.0, 0.0), (0.0, 9.0)]]), one),), one, one, np.eye(2, 3)[None], one
    )
    coat = Coat(np.full((1, 4), 200, np.uint8), np.full((1, 4), 255, np.uint8), np.ones(1), blend="multiply")
    layer = SceneLayer("", Picture(marks, (coat, coat._replace(blend="normal"))), 0.5, "screen")
    return Scene(20.0, 20.0, "#FFFFFF", (layer,)), View(24, 24, 1.0, 12.0, 12.0), layer.picture


def look() -> None:
    """Look for what lies on top in a small picture: for that edges are placed."""
    from under_lattice.render.topmost import flat_for, mark_at

    _, view, picture = _small()
    mark_at(flat_for(picture, view), 12.0, 12.0)


def paint_small() -> None:
    """Paint a small scene with every kernel that paints, and look for what lies on top."""
    from under_lattice.render.paint import paint

    scene, view, _ = _small()
    paint(scene, view)
    paint(scene, view, depth="float")
    look()


def rest() -> None:
    """Compile what measures and what finishes."""
    from under_lattice.render.finish import finished

    _measure()
    finished(np.ones((24, 24, 4), np.float32), FINISHES, View(24, 24, 1.0, 12.0, 12.0))
    fade(np.zeros((1, 1, 4), np.float32), np.ones((1, 1), np.float32))


def _measure() -> None:
    """Measure outlines that overlap, that touch, and that are curved and apart."""
    from under_lattice.measure.gaps import gaps_of

    square, none = np.array([(-3.0, -3.0), (3.0, -3.0), (3.0, 3.0), (-3.0, 3.0)]), np.zeros(2, np.int32)
    bowed = np.insert(square, [1, 2, 3], square[1:] * 1.1, 0)
    shapes = ((polygon_verbs(4), square), (polygon_verbs(4), square), (bytes([MOVE, CURVE, CURVE, CLOSE]), bowed))
    for (verbs, points), step in zip(shapes, (5.0, 6.0, 9.0), strict=True):
        places = np.stack([np.eye(2, 3), np.eye(2, 3)])
        places[1, 0, 2] = step
        gaps_of(Drawn(Marks((Family(verbs, points[None], none),), none, none, places, np.arange(2))))


def warm_elsewhere() -> subprocess.Popen[bytes]:
    """Begin compiling in a process of its own, at low priority; it ends its own when it is told to end."""
    return _elsewhere("warm")


def _elsewhere(what: str) -> subprocess.Popen[bytes]:
    """Begin a function of this file in a process of its own."""
    begin = "import os, signal, sys; os.nice(5); signal.signal(signal.SIGTERM, lambda *_: sys.exit(1))"
    command = [sys.executable, "-P", "-c", f"{begin}; from under_lattice.render.warm import {what}; {what}()"]
    return subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


if __name__ == "__main__":
    warm()
