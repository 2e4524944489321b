"""Finishes: what is done to pixels, one file for each kind, on premultiplied floats."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from under_lattice.colour.effects import Blur, Effect, Shadow, Tone, ToneMap
from under_lattice.geometry.affine import Array
from under_lattice.render.finish.blur import blurred
from under_lattice.render.finish.shadow import shadowed
from under_lattice.render.finish.tone import mapped, toned

DONE_BY: dict[type, Callable[[Array, Any, float], Array]] = {
    Blur: lambda pixels, effect, scale: blurred(pixels, effect.deviation * scale, effect.along),
    Shadow: shadowed,
    Tone: lambda pixels, effect, scale: toned(pixels, effect),
    ToneMap: lambda pixels, effect, scale: mapped(pixels, effect),
}


def finished(pixels: Array, effects: Iterable[Effect], scale: float) -> Array:
    """Return pixels (H, W, 4), premultiplied float32, after effects one after the other; `scale` is px per unit."""
    for effect in effects:
        pixels = DONE_BY[type(effect)](pixels, effect, scale)
    return pixels
