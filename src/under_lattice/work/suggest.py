"""A new rule with numbers that suit the work it is put into."""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.core.outline import is_straight_polygon
from under_lattice.rules.adjust import Adjust
from under_lattice.rules.base import MotifRule, Rule
from under_lattice.rules.ink import Ink
from under_lattice.rules.lattice import Lattice
from under_lattice.rules.push_edges import PushEdges
from under_lattice.rules.split import Split
from under_lattice.work.edits import edited
from under_lattice.work.model import Chain, Sheet

FORM_OF_SIDES = {3: "triangles", 6: "hexagons on points"}
PALETTE = ("#E6DCC6", "#5E8C86", "#22404A")


def suggested(kind: type[Rule], chain: Chain, sheet: Sheet) -> Rule:
    """Return a rule of a kind, its lengths in proportion to the motif and its form as the motif suggests."""
    body = _body(chain)
    size = float(np.ptp(body, 0).max()) if body is not None else min(sheet.width, sheet.height) / 9
    changes: dict[str, Any] = {}
    if kind is PushEdges:
        changes = {name: _tidy(size * 0.07) for name in ("amount", "second", "third")}
    elif kind is Split and body is not None and len(body) % 2:
        changes = {"into": "triangles"}
    elif kind is Ink:
        changes = {"palette": PALETTE, "stroke_width": _tidy(size * 0.015)}
    elif kind is Adjust:
        changes = {"turn": 15.0}
    elif kind is Lattice:
        changes = _lattice(chain, body, size, sheet)
    fresh = kind.model_validate({"kind": kind.model_fields["kind"].default})
    return edited(fresh, **changes) if changes else fresh


def _lattice(chain: Chain, body: np.ndarray | None, size: float, sheet: Sheet) -> dict[str, Any]:
    form = FORM_OF_SIDES.get(len(body), "squares") if body is not None else "squares"
    if form == "hexagons on points" and body is not None and np.ptp(body[:, 0]) > np.ptp(body[:, 1]) * 1.01:
        form = "hexagons on flats"
    changes: dict[str, Any] = {
        "form": form,
        "pitch": _tidy(size),
        "row_pitch": _tidy(size),
        "box_width": _tidy(sheet.width * 0.8),
        "box_height": _tidy(sheet.height * 0.8),
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


def _tidy(length: float) -> float:
    """Round a length to two significant figures."""
    digits = 1 - int(np.floor(np.log10(max(abs(length), 1e-9))))
    return max(round(length, digits), 0.001)
