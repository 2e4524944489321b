"""Finishes: what is done to pixels, on premultiplied floats; blur, light and shadow in linear light, tones on coded values."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

import numpy as np

from under_lattice.colour import effects as of
from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.bent import rippled, smeared, streaked, twisted
from under_lattice.render.finish.blur import blurred
from under_lattice.render.finish.dots import celled, grained, halftoned
from under_lattice.render.finish.edge import contoured
from under_lattice.render.finish.relief import relieved
from under_lattice.render.finish.rows import asking
from under_lattice.render.finish.shadow import shadowed
from under_lattice.render.finish.tone import balanced, curved, mapped, stepped, toned
from under_lattice.scene.tree import View

DONE_BY: dict[type, Callable[[Array, Any, View], Array]] = {
    of.Blur: lambda pixels, effect, view: blurred(pixels, effect.deviation * view.scale, effect.along),
    of.Shadow: lambda pixels, effect, view: shadowed(pixels, effect, view.scale),
    of.Relief: lambda pixels, effect, view: relieved(pixels, effect, view.scale),
    of.Contour: lambda pixels, effect, view: contoured(pixels, effect, view.scale),
    of.Streak: streaked,
    of.Ripple: rippled,
    of.Twist: twisted,
    of.Smear: lambda pixels, effect, view: smeared(pixels, effect.length * view.scale, effect.size * view.scale),
    of.Grain: grained,
    of.Halftone: halftoned,
    of.Cells: celled,
    of.Tone: lambda pixels, effect, view: toned(pixels, effect),
    of.ToneCurve: lambda pixels, effect, view: curved(pixels, effect),
    of.FewTones: lambda pixels, effect, view: stepped(pixels, effect),
    of.Balance: lambda pixels, effect, view: balanced(pixels, effect),
    of.ToneMap: lambda pixels, effect, view: mapped(pixels, effect),
}


def finished(pixels: Array, effects: Iterable[of.Effect], view: View, progress: Progress = QUIET) -> Array:
    """Return pixels (H, W, 4) of a view, premultiplied float32, after effects one after the other.

    Raises
    ------
    GivenUp
    """
    if not np.isfinite(pixels.sum()):
        pixels = np.nan_to_num(pixels, nan=0.0, posinf=1.0, neginf=0.0)
    with asking(progress.stop):
        for effect in effects:
            progress.check()
            pixels = DONE_BY[type(effect)](pixels, effect, view)
    return pixels
