"""The kinds of rules, in one explicit list; adding a rule is adding one file, its test and its line here."""

from __future__ import annotations

from under_lattice.rules.adjust import Adjust
from under_lattice.rules.along_curve import AlongCurve
from under_lattice.rules.arc import Arc
from under_lattice.rules.bar_strip import BarStrip
from under_lattice.rules.base import Rule
from under_lattice.rules.bow import Bow
from under_lattice.rules.combine import Combine
from under_lattice.rules.construction_only import ConstructionOnly
from under_lattice.rules.contact_lines import ContactLines
from under_lattice.rules.cut import Cut
from under_lattice.rules.dash import Dash
from under_lattice.rules.drawn_curve import DrawnCurve
from under_lattice.rules.ellipse import Ellipse
from under_lattice.rules.facets import Facets
from under_lattice.rules.frozen_motif import FrozenMotif
from under_lattice.rules.ink import Ink
from under_lattice.rules.inner_lines import InnerLines
from under_lattice.rules.inner_polygon import InnerPolygon
from under_lattice.rules.interlace import Interlace
from under_lattice.rules.join_ends import JoinEnds
from under_lattice.rules.join_faces import JoinFaces
from under_lattice.rules.kite import Kite
from under_lattice.rules.lattice import Lattice
from under_lattice.rules.layer_end import LayerEnd
from under_lattice.rules.layer_motif import LayerMotif
from under_lattice.rules.leave_out import LeaveOut
from under_lattice.rules.lettering import Lettering
from under_lattice.rules.line import Line
from under_lattice.rules.lissajous import Lissajous
from under_lattice.rules.loosen import Loosen
from under_lattice.rules.mirror import Mirror
from under_lattice.rules.morph import Morph
from under_lattice.rules.offset import Offset
from under_lattice.rules.outline_motif import Outline
from under_lattice.rules.petal import Petal
from under_lattice.rules.picture_motif import PictureMotif
from under_lattice.rules.pixel_motif import PixelMotif
from under_lattice.rules.polygon import Polygon
from under_lattice.rules.progression import Progression
from under_lattice.rules.push_edges import PushEdges
from under_lattice.rules.rectangle import Rectangle
from under_lattice.rules.ring import Ring
from under_lattice.rules.rose import Rose
from under_lattice.rules.rosette import Rosette
from under_lattice.rules.roulette import Roulette
from under_lattice.rules.seed_head import SeedHead
from under_lattice.rules.sheet_motif import SheetMotif
from under_lattice.rules.spiral import Spiral
from under_lattice.rules.split import Split
from under_lattice.rules.spots import Spots
from under_lattice.rules.star import Star
from under_lattice.rules.stroke_to_shape import StrokeToShape
from under_lattice.rules.superellipse import Superellipse
from under_lattice.rules.symmetry import Symmetry
from under_lattice.rules.tiling import Tiling
from under_lattice.rules.touch_up import TouchUp
from under_lattice.rules.triangle import Triangle
from under_lattice.rules.trim import Trim
from under_lattice.rules.warp import Warp
from under_lattice.rules.wave_edges import WaveEdges
from under_lattice.rules.wave_line import WaveLine
from under_lattice.rules.weave import Weave

RULES: tuple[type[Rule], ...] = (
    *(Polygon, Ellipse, Star, Ring, Arc, Petal, Rectangle, Triangle, Kite, Superellipse, Facets),
    *(Line, WaveLine, Spiral, Roulette, Rose, Lissajous, BarStrip, Weave, Tiling, DrawnCurve, Outline, Lettering, SheetMotif),
    *(LayerMotif, PictureMotif, PixelMotif, FrozenMotif),
    *(Split, JoinFaces, PushEdges, WaveEdges, Bow, InnerPolygon, InnerLines, ContactLines, Morph, Cut, Offset, StrokeToShape),
    *(Lattice, Progression, Rosette, SeedHead, AlongCurve, Mirror, Symmetry, Spots),
    *(Adjust, LeaveOut, Loosen, TouchUp, Interlace, Combine, Trim, Warp, Dash, JoinEnds),
    *(Ink, ConstructionOnly, LayerEnd),
)
KINDS: dict[str, type[Rule]] = {str(rule.model_fields["kind"].default): rule for rule in RULES}
