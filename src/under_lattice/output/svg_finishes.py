"""Finishes that an SVG can say: filters of the layer, so that its outlines stay outlines."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from under_lattice.colour import effects as of
from under_lattice.colour.effects import Effect
from under_lattice.core.units import short
from under_lattice.evaluate.finishing import effects_of
from under_lattice.geometry.affine import Array
from under_lattice.pattern.marks import Picture
from under_lattice.render.finish.tone import curved, toned
from under_lattice.scene.tree import SceneLayer
from under_lattice.work.layers import AnyLayer

VALUES = 256  # in the table of a channel
Lengths = Callable[[float], str]  # a length in the unit of the work, as it is written


def said_by_filter(layer: SceneLayer) -> bool:
    """Tell whether all finishes of a layer can be written as filters."""
    closed = layer.picture.closed
    if len(closed) != 1 or len(closed[0].place) != 1 or (closed[0].unit < 0).any():
        return False
    (a, b, _), (c, d, _) = closed[0].place[0]
    even = abs(b) + abs(c) + abs(a - d) < 1e-9 * abs(a) and a > 0
    return bool(even) and all(_can(effect) for effect in closed[0].effects)


def in_pixels(layers: Sequence[AnyLayer]) -> tuple[str, ...]:
    """Return what of layers, front first, has finishes and goes out as pictures where none can be said otherwise, in words."""
    return as_pictures(layers, lambda effect: False)


def as_pictures(layers: Sequence[AnyLayer], said: Callable[[Effect], bool] | None = None) -> tuple[str, ...]:
    """Return what of layers, front first, goes out as pictures because of finishes that are not said otherwise, in words."""
    said, out = said or _can, list[str]()
    for layer in layers:
        if layer.hidden or layer.source_only:
            continue
        effects = effects_of(layer)
        if layer.veils and effects:
            return (*out, f"all beneath {layer.name}")
        if layer.members:
            out += as_pictures(layer.members, said)
        elif effects and not (all(map(said, effects)) and _below_repeats(layer) and not getattr(layer.end, "place_turn", 0.0)):
            out.append(layer.name)
    return tuple(out)


def _below_repeats(layer: AnyLayer) -> bool:
    """Whether the finishes of a layer stand below all that repeats."""
    live = [rule.family for rule in layer.own_rules if rule.on]
    return "repeat" not in live[live.index("finish") :]


def reach_of(picture: Picture) -> float:
    """Return how far the finishes of a picture carry what is there, in the unit of the work."""
    (closed,) = picture.closed
    return float(closed.place[0, 0, 0]) * sum(effect.reach for effect in closed.effects)


def primitives_of(picture: Picture, length: Lengths) -> str:
    """Return the primitives of the filter that does what the finishes of a picture do."""
    (closed,) = picture.closed
    size, out, before = float(closed.place[0, 0, 0]), "", "SourceGraphic"
    for k, effect in enumerate(closed.effects):
        out += _primitives(effect, size, before, f"f{k}", length)
        before = f"f{k}"
    return out


def _can(effect: Effect) -> bool:
    """Whether an effect can be written."""
    if isinstance(effect, of.Blur):
        return effect.along is None or effect.along % 90 == 0
    if isinstance(effect, of.Shadow):
        return not effect.spread and effect.blend == "normal"
    if isinstance(effect, of.Tone):
        return effect.saturation == 1 and not effect.hue
    return isinstance(effect, of.ToneCurve) or (isinstance(effect, of.FewTones) and effect.at is None)


def _primitives(effect: Effect, size: float, before: str, name: str, length: Lengths) -> str:
    if isinstance(effect, of.Blur):
        one = length(effect.deviation * size)
        both = one if effect.along is None else f"{one} 0" if effect.along % 180 == 0 else f"0 {one}"
        return f'<feGaussianBlur in="{before}" stdDeviation="{both}" color-interpolation-filters="linearRGB" result="{name}"/>'
    if isinstance(effect, of.Shadow):
        return _shadow(effect, size, before, name, length)
    if isinstance(effect, of.FewTones):
        last = effect.count - 1
        values = " ".join(short(k / last, 4) for k in range(effect.count))
        channels = "".join(f'<feFunc{c} type="discrete" tableValues="{values}"/>' for c in "RGB")
    else:
        tables = _tables(effect)
        values_of = [" ".join(short(float(v), 4) for v in table) for table in tables.T]
        channels = "".join(f'<feFunc{c} type="table" tableValues="{v}"/>' for c, v in zip("RGB", values_of, strict=True))
    return f'<feComponentTransfer in="{before}" result="{name}">{channels}</feComponentTransfer>'


def _tables(effect: Effect) -> Array:
    """What an effect makes of each value (256, 3) of the three channels, each by itself."""
    grey = np.repeat(np.linspace(0.0, 1.0, VALUES)[None, :, None], 3, 2)
    pixels = np.concatenate([grey, np.ones((1, VALUES, 1))], -1).astype(np.float32)
    made = toned(pixels, effect) if isinstance(effect, of.Tone) else curved(pixels, effect)  # type: ignore[arg-type]
    return np.asarray(made[0, :, :3])


def _shadow(effect: of.Shadow, size: float, before: str, name: str, length: Lengths) -> str:
    """What is there in one colour, moved and blurred, laid beneath it; or what that leaves bare, laid on it."""
    angle, far = np.radians(effect.direction), effect.distance * size
    across, down = length(float(far * np.cos(angle))), length(float(far * np.sin(angle)))
    red, green, blue = (short(v, 4) for v in effect.colour)
    alpha = f"0 0 0 {short(effect.opacity, 4)} 0"
    moved = (
        f'<feOffset in="{before}" dx="{across}" dy="{down}" result="{name}o"/>'
        f'<feGaussianBlur in="{name}o" stdDeviation="{length(effect.deviation * size)}" result="{name}b"/>'
    )
    if effect.inside:
        alpha = f"0 0 0 {short(-effect.opacity, 4)} {short(effect.opacity, 4)}"
    colour = f"0 0 0 0 {red} 0 0 0 0 {green} 0 0 0 0 {blue} {alpha}"
    moved += f'<feColorMatrix in="{name}b" type="matrix" values="{colour}" result="{name}c"/>'
    if effect.inside:
        return f'{moved}<feComposite in="{name}c" in2="{before}" operator="atop" result="{name}"/>'
    return f'{moved}<feMerge result="{name}"><feMergeNode in="{name}c"/><feMergeNode in="{before}"/></feMerge>'
