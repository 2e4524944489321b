"""Dials: one editor for each declared kind."""

from __future__ import annotations

from under_lattice.declare.colour_dials import Colour, Palette, RampStops
from under_lattice.declare.curve_dial import CurvePoints, TonePoint
from under_lattice.declare.dials import Choice, Dial, Font, LayerChoice, NumberDial, Picture, Point, RuleChoice, Text
from under_lattice.declare.drawn_dials import DrawnLine, OutlineText, Pixels, ShapeList, Touches
from under_lattice.declare.mask_strokes import PaintedMask
from under_lattice.ui.dials.colour_rows import ColourRow, PaletteRow
from under_lattice.ui.dials.font_row import FontRow
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.layer_row import LayerRow
from under_lattice.ui.dials.number_row import NumberRow
from under_lattice.ui.dials.outline_row import LineRow, OutlineRow, ShapesRow
from under_lattice.ui.dials.picture_row import PictureRow
from under_lattice.ui.dials.pixel_row import PixelRow
from under_lattice.ui.dials.point_row import PointRow
from under_lattice.ui.dials.ramp_row import RampRow
from under_lattice.ui.dials.row import ChoiceRow, DialRow, RuleRow, TextRow
from under_lattice.ui.dials.strokes_row import StrokesRow
from under_lattice.ui.dials.tone_rows import ToneCurveRow, TonePointRow
from under_lattice.ui.dials.touch_row import TouchRow

ROWS: tuple[tuple[type[Dial], type[DialRow]], ...] = (
    (TonePoint, TonePointRow),
    (NumberDial, NumberRow),
    (CurvePoints, ToneCurveRow),
    (Choice, ChoiceRow),
    (RuleChoice, RuleRow),
    (LayerChoice, LayerRow),
    (Picture, PictureRow),
    (DrawnLine, LineRow),
    (OutlineText, OutlineRow),
    (ShapeList, ShapesRow),
    (Pixels, PixelRow),
    (Font, FontRow),
    (Text, TextRow),
    (Colour, ColourRow),
    (Palette, PaletteRow),
    (RampStops, RampRow),
    (PaintedMask, StrokesRow),
    (Point, PointRow),
    (Touches, TouchRow),
)


def row_for(hand: Hand, name: str) -> DialRow:
    """Return the row that edits a dial."""
    dial = hand.rule.dials()[name]
    return next(row for kind, row in ROWS if isinstance(dial, kind))(hand, name)
