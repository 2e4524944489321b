"""What tones come into a finish, read off a small picture."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult
from under_lattice.geometry.affine import Array
from under_lattice.pattern.known import LUMA
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import Scene, SceneLayer, make_scene, whole_page
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design

SIDE, BINS = 160, 64  # px of the longer side of the picture, and parts the values are told in


def tones_in(
    design: Design, results: Mapping[str, ChainResult], evaluator: Evaluator, layer: str, progress: Progress = QUIET
) -> dict[str, Array]:
    """Return how often lightness, red, green and blue have each value (4, 64) in what comes into finishes of a layer, by rule.

    The most often is 1; finishes that are not set by tones are left out.

    Raises
    ------
    GivenUp, LimitError
    """
    found = {}
    for rule in design.layer(layer).own_rules if layer else ():
        scene = (
            _scene_before(design, results, evaluator, design.layer(layer), rule.id, progress) if rule.by_tones and rule.on else None
        )
        if scene is not None:
            found[rule.id] = _tones(scene, progress)
    return found


def _tones(scene: Scene, progress: Progress) -> Array:
    """The same for a scene."""
    wide = max(1, round(SIDE * min(1.0, scene.width / scene.height)))
    pixels = paint_now(scene, whole_page(scene, wide), progress).reshape(-1, 4).astype(float)
    pixels = pixels[pixels[:, 3] > 0]
    colours = pixels[:, :3] / pixels[:, 3:]
    at = np.clip(np.concatenate([(colours @ LUMA)[:, None], colours], 1) * BINS, 0, BINS - 1).astype(int)
    counts = np.stack([np.bincount(at[:, k], pixels[:, 3], BINS) for k in range(4)])
    return np.asarray(counts / max(float(counts.max()), 1e-9))


def _scene_before(
    design: Design, results: Mapping[str, ChainResult], evaluator: Evaluator, layer: AnyLayer, rule: str, progress: Progress
) -> Scene | None:
    """What stands above a finish: a chain so far, or for a veil all beneath it."""
    sheet = design.sheet
    if layer.veils:
        layers = _beneath(design.layers, layer.id, rule) or ()
        return make_scene(edited(design, layers=layers), dict(results), evaluator, progress=progress)
    result = results.get(layer.id)
    at = next((k for k, step in enumerate(result.steps) if step.rule.id == rule), 0) if result is not None else 0
    picture = evaluator.picture(result, result.steps[at - 1], progress) if result is not None and at else None
    return None if picture is None else Scene(sheet.width, sheet.height, "", (SceneLayer("", picture),))


def _beneath(layers: tuple[Any, ...], veil: str, rule: str) -> tuple[Any, ...] | None:
    """The layers beneath a rule of a veil, front first, with the groups it stands in."""
    for k, one in enumerate(layers):
        if one.id == veil:
            at = next((j for j, own in enumerate(one.rules) if own.id == rule), 0)
            return (edited(one, rules=one.rules[:at]), *layers[k + 1 :])
        inner = _beneath(one.members, veil, rule) if one.members else None
        if inner is not None:
            return (edited(one, layers=inner), *layers[k + 1 :])
    return None
