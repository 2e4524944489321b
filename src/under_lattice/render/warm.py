"""Compiling the kernels: once for each version and person, in a process of its own."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import numpy as np

from under_lattice.colour.effects import Blur, Contour, Relief, Ripple, Smear, Streak
from under_lattice.geometry.outline import polygon_verbs
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.pattern.stage import Family
from under_lattice.render.kernel_blend import fade
from under_lattice.render.kernel_cache import folder
from under_lattice.scene.tree import Scene, SceneLayer, View

READY = "ready"
FINISHES = (
    Blur(1.0),
    Blur(9.0),
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
    lines = [line for source in Path(__file__).parent.glob("kernel*.py") for line in source.read_text().splitlines()]
    wanted = sum(line.startswith("@njit") and "inline" not in line for line in lines)
    kept = {path.name.split(".")[1] for path in folder().rglob("*.nbi")}
    return min(1.0, len(kept) / max(1, wanted))


def warm() -> None:
    """Compile every kernel by painting and finishing a small scene, then note that it is done. Two at once do no harm."""
    from under_lattice.render.finish import finished
    from under_lattice.render.paint import paint
    from under_lattice.render.topmost import flat_for, mark_at

    one = np.zeros(1, np.int32)
    marks = Marks(
        (Family(polygon_verbs(3), np.array([[(0.0, 0.0), (9.0, 0.0), (0.0, 9.0)]]), one),), one, one, np.eye(2, 3)[None], one
    )
    coat = Coat(np.full((1, 4), 200, np.uint8), np.full((1, 4), 255, np.uint8), np.ones(1), blend="multiply")
    layer = SceneLayer("", Picture(marks, (coat, coat._replace(blend="normal"))), 0.5, "screen")
    scene, view = Scene(20.0, 20.0, "#FFFFFF", (layer,)), View(24, 24, 1.0, 12.0, 12.0)
    paint(scene, view)
    finished(paint(scene, view, depth="float"), FINISHES, view)
    fade(np.zeros((1, 1, 4), np.float32), np.ones((1, 1), np.float32))
    mark_at(flat_for(layer.picture, view), 12.0, 12.0)
    if folder().is_dir():
        (folder() / READY).touch()


def warm_elsewhere() -> subprocess.Popen[bytes]:
    """Begin compiling in a process of its own, at low priority."""
    command = [sys.executable, "-P", "-c", "import os; os.nice(5); from under_lattice.render.warm import warm; warm()"]
    return subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


if __name__ == "__main__":
    warm()
