"""A new rule with numbers that suit the work it is put into."""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.declare.frozen import edited
from under_lattice.geometry.outline import is_straight_polygon
from under_lattice.rules.base import MotifRule, Rule
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.interlace import Interlace
from under_lattice.rules.copies.join_ends import JoinEnds
from under_lattice.rules.motifs.tiling import Tiling
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.lattice_net import AS_TILES
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.spots import Spots
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shapes.inner_lines import InnerLines
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.model import Sheet

FORM_OF_SIDES = {3: "triangles", 6: "hexagons on points"}
PALETTE = ("#E6DCC6", "#5E8C86", "#22404A")


def suggested(kind: type[Rule], chain: Chain, sheet: Sheet) -> Rule:
    """Return a rule of a kind, its lengths in proportion to the motif and its form as the motif suggests."""
    body = _body(chain)
    size = float(np.ptp(body, 0).max()) if body is not None else min(sheet.width, sheet.height) / 9
    changes: dict[str, Any] = {}
    if kind is PushEdges:
        changes = {name: tidy(size * 0.07) for name in ("amount", "second", "third")}
    elif kind is Split and body is not None and len(body) % 2:
        changes = {"into": "triangles"}
    elif kind is InnerLines and body is not None:
        count = len(body)
        changes = {"lines": f"s1-p-s{count // 2 + 1}" + (f", s2-q-s{count // 2 + 2}" if count > 3 else "")}
    elif kind is JoinEnds:
        changes = {"near": tidy(size * 0.05)}
    elif kind is Ink:
        changes = {"palette": PALETTE, "stroke_width": tidy(size * 0.015)}
    elif kind is Interlace:
        changes = {"width": tidy(size * 0.07), "gap": tidy(size * 0.015)}
    elif kind is Adjust:
        changes = {"turn": 15.0}
    elif kind is Lattice:
        changes = _lattice(chain, body, size, sheet)
    elif kind in (Progression, Rosette, SeedHead, AlongCurve, Mirror, Symmetry, Spots):
        changes = _run(kind, chain, size, sheet)
    fresh = kind.model_validate({"kind": kind.model_fields["kind"].default})
    return edited(fresh, **changes) if changes else fresh


def _run(kind: type[Rule], chain: Chain, size: float, sheet: Sheet) -> dict[str, Any]:
    """Numbers for a repeat that goes step by step or round."""
    least = min(sheet.width, sheet.height)
    spread = any(rule.family == "repeat" and rule.on for rule in chain.rules)
    if kind is Progression:
        return {"count": 24, "distance": 0.0, "turn": 6.0, "across": 94.0, "along": 94.0} | (
            {"turn_about": "the pivot", "size_about": "the pivot", "pivot": Anchor(spot="sheet centre")} if spread else {}
        )
    if kind is Rosette:
        if spread:
            return {"count": 6, "radius": tidy(size)}
        return {"radius": tidy(least * 0.32), "count": 12}
    if kind is SeedHead:
        return {"spacing": tidy(max(size * 0.55, least * 0.012)), "count": 200, "skip": 1}
    if kind is AlongCurve:
        x, y = tidy(sheet.width * 0.36), tidy(sheet.height * 0.22)
        points = f"{-x:g}, {y:g}; {-x / 3:g}, {-y:g}; {x / 3:g}, {y:g}; {x:g}, {-y:g}"
        return {"points": points, "pitch": tidy(size * 1.1), "count": 16, "inset": tidy(size * 0.7)}
    if kind is Spots:
        side = tidy(size * 1.3)
        return {"spots": f"{-side:g}, {-side:g}; 0, {side:g}, 30; {side:g}, {-side:g}, 60, 70"}
    if kind is Symmetry:
        cell = tidy(size * 3)
        return {"width": cell, "height": cell, "x": tidy(size * 0.8), "y": tidy(size * 0.35)}
    return {"pivot": Anchor(spot="sheet centre")} if spread else {}


def sources_of(layer: AnyLayer, rule: Rule, name: str) -> list[Rule]:
    """Return the repeats a number may vary by: all for shapes and ink, only those above for what makes copies.

    The rule itself comes last where its own steps may differ.
    """
    rules = layer.own_rules
    at = next((k for k, one in enumerate(rules) if one.id == rule.id), len(rules))
    among = rules[:at] if rule.family in ("repeat", "copies") else rules
    found = [one for one in among if one.family == "repeat" and one.id != rule.id]
    return [*found, rule] if name in rule.own_steps else found


def motif_of_size(kind: type[MotifRule], chain: Chain) -> MotifRule:
    """Return a motif of a kind, as wide as the present motif of the chain."""
    fresh = kind.model_validate({"kind": kind.model_fields["kind"].default})
    old = chain.rules[0]
    if not isinstance(old, MotifRule):
        return fresh
    wide = [box[2] - box[0] for box in (motif.shape().body().box() for motif in (old, fresh))]
    measures = [name for name in ("width", "size", "length") if name in kind.dials() and kind.dials()[name].kind == "length"]
    if not measures:
        return fresh
    dial = measures[0]
    return edited(fresh, **{dial: max(round(getattr(fresh, dial) * wide[0] / max(wide[1], 1e-9), 2), 0.001)})


def _lattice(chain: Chain, body: np.ndarray | None, size: float, sheet: Sheet) -> dict[str, Any]:
    form = FORM_OF_SIDES.get(len(body), "squares") if body is not None else "squares"
    form = AS_TILES if isinstance(chain.rules[0], Tiling) else form
    if form == "hexagons on points" and body is not None and np.ptp(body[:, 0]) > np.ptp(body[:, 1]) * 1.01:
        form = "hexagons on flats"
    changes: dict[str, Any] = {
        "form": form,
        "pitch": tidy(size),
        "row_pitch": tidy(size),
        "box_width": tidy(sheet.width * 0.8),
        "box_height": tidy(sheet.height * 0.8),
    }
    if any(rule.family == "repeat" and rule.on for rule in chain.rules):
        changes |= {"form": "squares", "extent": "by number", "columns": 2, "rows": 2}
    return changes


def _body(chain: Chain) -> np.ndarray | None:
    motif = chain.rules[0]
    if not isinstance(motif, MotifRule):
        return None
    outline = motif.shape().body()
    return outline.points if is_straight_polygon(outline.verbs) else None


def tidy(length: float) -> float:
    """Round a length to two significant figures."""
    digits = 1 - int(np.floor(np.log10(max(abs(length), 1e-9))))
    return max(round(length, digits), 0.001)
