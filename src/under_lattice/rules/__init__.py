"""The kinds of rules, in one explicit list; adding a rule is adding one file, its test and its line here."""

from __future__ import annotations

from under_lattice.rules.base import Rule
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.combine import Combine
from under_lattice.rules.copies.dash import Dash
from under_lattice.rules.copies.interlace import Interlace
from under_lattice.rules.copies.join_ends import JoinEnds
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.loosen import Loosen
from under_lattice.rules.copies.touch_up import TouchUp
from under_lattice.rules.copies.trim import Trim
from under_lattice.rules.copies.warp import Warp
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.finishes.blur import Blur
from under_lattice.rules.finishes.cells import Cells
from under_lattice.rules.finishes.contour import Contour
from under_lattice.rules.finishes.grain import Grain
from under_lattice.rules.finishes.halftone import Halftone
from under_lattice.rules.finishes.relief import Relief
from under_lattice.rules.finishes.ripple import Ripple
from under_lattice.rules.finishes.shadow import Shadow
from under_lattice.rules.finishes.smear import Smear
from under_lattice.rules.finishes.streak import Streaks
from under_lattice.rules.finishes.twist import Twist
from under_lattice.rules.motifs.arc import Arc
from under_lattice.rules.motifs.bar_strip import BarStrip
from under_lattice.rules.motifs.drawn_curve import DrawnCurve
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.facets import Facets
from under_lattice.rules.motifs.frozen_motif import FrozenMotif
from under_lattice.rules.motifs.kite import Kite
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.rules.motifs.lettering import Lettering
from under_lattice.rules.motifs.line import Line
from under_lattice.rules.motifs.lissajous import Lissajous
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.picture_motif import PictureMotif
from under_lattice.rules.motifs.pixel_motif import PixelMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.rose import Rose
from under_lattice.rules.motifs.roulette import Roulette
from under_lattice.rules.motifs.sheet_motif import SheetMotif
from under_lattice.rules.motifs.spiral import Spiral
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.motifs.superellipse import Superellipse
from under_lattice.rules.motifs.tiling import Tiling
from under_lattice.rules.motifs.triangle import Triangle
from under_lattice.rules.motifs.wave_line import WaveLine
from under_lattice.rules.motifs.weave import Weave
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.spots import Spots
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shapes.bow import Bow
from under_lattice.rules.shapes.construction_only import ConstructionOnly
from under_lattice.rules.shapes.contact_lines import ContactLines
from under_lattice.rules.shapes.cut import Cut
from under_lattice.rules.shapes.inner_lines import InnerLines
from under_lattice.rules.shapes.inner_polygon import InnerPolygon
from under_lattice.rules.shapes.join_faces import JoinFaces
from under_lattice.rules.shapes.morph import Morph
from under_lattice.rules.shapes.offset import Offset
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shapes.stroke_to_shape import StrokeToShape
from under_lattice.rules.shapes.wave_edges import WaveEdges
from under_lattice.rules.tones.balance import Balance
from under_lattice.rules.tones.few_tones import FewTones
from under_lattice.rules.tones.tone import Tone
from under_lattice.rules.tones.tone_curve import ToneCurve
from under_lattice.rules.tones.tone_map import TonesToColours

FAMILIES: tuple[tuple[str, tuple[type[Rule], ...]], ...] = (  # as they are offered, each under its heading
    ("Polygons, stars and tiles", (Polygon, Star, Triangle, Rectangle, Kite, Tiling, Facets)),
    ("Rounds", (Ellipse, Ring, Arc, Petal, Superellipse)),
    ("Lines and curves", (Line, WaveLine, Spiral, Roulette, Rose, Lissajous, DrawnCurve)),
    ("Strips and weaves", (BarStrip, Weave)),
    ("Lettering, pictures and other layers", (Lettering, Outline, PictureMotif, PixelMotif, LayerMotif, SheetMotif, FrozenMotif)),
    ("Repeat", (Lattice, Progression, Rosette, SeedHead, AlongCurve, Mirror, Symmetry, Spots)),
    ("Colour", (Ink, ConstructionOnly)),
    (
        "Reshape",
        (Split, JoinFaces, PushEdges, WaveEdges, Bow, InnerPolygon, InnerLines, ContactLines, Morph, Cut, Offset, StrokeToShape),
    ),
    ("Arrange, cut and join copies", (Adjust, LeaveOut, Loosen, TouchUp, Interlace, Combine, Trim, Warp, Dash, JoinEnds)),
    ("Finish: light and softness", (Blur, Shadow, Relief, Contour, Grain)),
    ("Finish: tone and colour", (Tone, ToneCurve, TonesToColours, FewTones, Balance)),
    ("Finish: drawn out, bent, made of cells", (Streaks, Smear, Ripple, Twist, Halftone, Cells)),
    ("", (LayerEnd,)),
)
RULES: tuple[type[Rule], ...] = tuple(kind for _, kinds in FAMILIES for kind in kinds)
KINDS: dict[str, type[Rule]] = {str(rule.model_fields["kind"].default): rule for rule in RULES}

__all__ = [
    "FAMILIES",
    "KINDS",
    "RULES",
    "Adjust",
    "AlongCurve",
    "Arc",
    "Balance",
    "BarStrip",
    "Blur",
    "Bow",
    "Cells",
    "Combine",
    "ConstructionOnly",
    "ContactLines",
    "Contour",
    "Cut",
    "Dash",
    "DrawnCurve",
    "Ellipse",
    "Facets",
    "FewTones",
    "FrozenMotif",
    "Grain",
    "Halftone",
    "Ink",
    "InnerLines",
    "InnerPolygon",
    "Interlace",
    "JoinEnds",
    "JoinFaces",
    "Kite",
    "Lattice",
    "LayerEnd",
    "LayerMotif",
    "LeaveOut",
    "Lettering",
    "Line",
    "Lissajous",
    "Loosen",
    "Mirror",
    "Morph",
    "Offset",
    "Outline",
    "Petal",
    "PictureMotif",
    "PixelMotif",
    "Polygon",
    "Progression",
    "PushEdges",
    "Rectangle",
    "Relief",
    "Ring",
    "Ripple",
    "Rose",
    "Rosette",
    "Roulette",
    "SeedHead",
    "Shadow",
    "SheetMotif",
    "Smear",
    "Spiral",
    "Split",
    "Spots",
    "Star",
    "Streaks",
    "StrokeToShape",
    "Superellipse",
    "Symmetry",
    "Tiling",
    "Tone",
    "ToneCurve",
    "TonesToColours",
    "TouchUp",
    "Triangle",
    "Trim",
    "Twist",
    "Warp",
    "WaveEdges",
    "WaveLine",
    "Weave",
]
