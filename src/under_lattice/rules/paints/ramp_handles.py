"""A ramp on the sheet: its centre and its end, where they stand and what a drag makes of them."""

from __future__ import annotations

from typing import Any

import numpy as np

from under_lattice.colour.ramp import FOCUS_MOST
from under_lattice.geometry.affine import IDENTITY, Array, apply, inverse
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.paints.ramps import SHAPE, SHEET, SO_FAR, RampLay, Span, box_of, sheet_span, spread, upright

CENTRE, END, FOCUS = "ramp centre", "ramp end", "ramp focus"
ASIDE = 0.12  # of its reach, where the focus is shown while it lies in the middle
NEAR = 4.0  # per cent of its reach, within which the focus goes to the middle
ROUND = 48  # corners of the ring that shows how far a round ramp reaches
LEAST, MOST = 1.0, 1000.0  # per cent of its reach


def seat_of(scope: str, stays_upright: bool, stage: Stage, ground: Ground) -> tuple[Span, Array] | None:
    """Return what a ramp runs over, and the place (2, 3) of it on the stage: of the first copy where each has its own.

    Nothing where it runs over each copy of a rule: these may stand anywhere.
    """
    if scope == SHEET:
        return sheet_span(ground.known.width, ground.known.height), IDENTITY
    if scope == SO_FAR:
        return Span(*box_of(stage), IDENTITY[None]), IDENTITY
    if scope != SHAPE:
        return None
    ring = stage.body_ring
    span = Span(ring.min(0), ring.max(0), None)
    return span, upright(span, stage.xform[:1])[0] if stays_upright else stage.xform[0]


def ramp_handles(span: Span, place: Array, lay: RampLay) -> HandleSet:
    """Return the handles of a ramp, as they stand on the stage."""
    middle, way, reach = spread(span, lay)
    if lay.form == "radial":
        turns = np.linspace(0, 2 * np.pi, ROUND + 1)
        end, line = middle + np.array([reach, 0.0]), middle + reach * np.column_stack([np.cos(turns), np.sin(turns)])
    elif lay.form == "linear":
        end = middle + way * reach / 2
        line = np.array([middle - way * reach / 2, end])
    else:
        end = middle + way * reach
        line = np.array([middle, end])
    words = f"{round(100 * lay.reach)} %" if lay.form == "radial" else f"{round(lay.angle, 1):g}°"
    there = apply(place, np.array([middle, end]))
    handles = [Handle(CENTRE, there[0], CENTRE, "bead"), Handle(END, there[1], f"{END}, {words}", "bead")]
    if lay.form == "radial":
        bead = middle + way * reach * (lay.focus or ASIDE)
        said = f"{FOCUS}, {round(100 * lay.focus)} %" if lay.focus else FOCUS
        handles.append(Handle(FOCUS, apply(place, bead[None])[0], said, "point"))
    return HandleSet(tuple(handles), lines=(apply(place, line),))


def ramp_dragged(drag: Drag, span: Span, place: Array, lay: RampLay) -> dict[str, Any]:
    """Return the changes of the dials of a ramp that a dragged handle means."""
    to = apply(inverse(place), drag.on_grid()[None])[0]
    if drag.name == CENTRE:
        share = 100 * (to - span.low) / np.maximum(span.high - span.low, 1e-9)
        across, down = (round(float(np.clip(one, -200, 300)), 1) for one in share)
        return {"ramp_across": across, "ramp_down": down}
    middle, _, _ = spread(span, lay)
    away = to - middle
    far = float(np.hypot(*away))
    if far < 1e-9:
        return {}
    angle = drag.angle(float(np.degrees(np.arctan2(away[1], away[0]))))
    if drag.name == FOCUS:
        _, _, reach = spread(span, lay)
        aside = 100 * far / reach
        return {"ramp_focus": 0.0 if aside < NEAR else round(min(aside, 100 * FOCUS_MOST), 1), "ramp_angle": angle}
    if lay.form == "around":
        return {"ramp_angle": angle}
    _, _, whole = spread(span, lay._replace(angle=angle, reach=1.0))
    reach = round(float(np.clip(100 * far * (2 if lay.form == "linear" else 1) / whole, LEAST, MOST)), 1)
    return {"ramp_reach": reach} if lay.form == "radial" else {"ramp_reach": reach, "ramp_angle": angle}
