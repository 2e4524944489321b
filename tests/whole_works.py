"""Whole works made up at random: every motif, several layers, groups in groups, veils, and numbers that vary in every way."""

from hypothesis import strategies as st

from under_lattice.declare.colour_dials import Colour, Palette, RampStops
from under_lattice.declare.curve_dial import CurvePoints
from under_lattice.declare.dials import Choice, Font, LayerChoice, NumberDial, Picture, Point, RuleChoice, Text
from under_lattice.declare.drawn_dials import PIXEL_SIGNS, OutlineText, Pixels, ShapeList, Touches  # fmt: skip
from under_lattice.declare.mask_strokes import PaintedMask
from under_lattice.library.layers import chain
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.rules import RULES
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.families import MotifRule
from under_lattice.rules.motifs.weave import LengthCode
from under_lattice.rules.paints.colour_choice import Weights
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.along_curve import PointList
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.spots import SpotList
from under_lattice.rules.shapes.cut import NumberList
from under_lattice.rules.shapes.inner_lines import Lines
from under_lattice.rules.shapes.join_faces import FaceGroups
from under_lattice.rules.shapes.push_edges import DrawnProfile
from under_lattice.rules.shared.anchor import SPOTS, Anchor
from under_lattice.rules.shared.touches import Touch
from under_lattice.vary.numbers import CHANNELS, CURVES, Second, Varied
from under_lattice.work.layers import Group, Veil
from under_lattice.work.model import Design, Sheet
from under_lattice.work.named import add_named

COLOURS = st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06X}")

TEXTS = {  # by kind of dial, the special ones first
    ShapeList: [
        "radial:Oklab:80:0,#FF0000,1,.5;1,#0000FF,1,.5:9,0,4,0,9,3 none 0 M0 0 L9 0 L5 9 Z",
        "#FF0000FF none 0 M0 0 L9 0 L5 9 Z",
        "none #00FF0080 1.5 M0 0 L9 0\n#0000FFFF none 0 M0 0 L1 0 L0 1 Z",
    ],
    OutlineText: ["M0 0 L10 0 L5 9 Z", "M0 0 C1 9 9 9 10 0 Z M3 1 L4 1 L4 2 Z\nM20 0 L30 5", "M0 0 L5 5"],
    Picture: ["", "0123456789abcdef"],
    LayerChoice: ["", "floor", "gone"],
    PointList: ["0, 0; 30, 20", "-5, 3; 8, 2; 40, -40", "1 1; 1 1"],
    SpotList: ["0, 0", "-5, 3; 8, 2, 45, 50", "1 1 10 20; 2 2; 0 0; 0 0"],
    Font: ["Clear Sans", "Clear Sans Bold", "No Such Font"],
    DrawnProfile: ["50 100", "25 60; 60 -40"],
    FaceGroups: ["1+2", "1+2, 3+4", ""],
    Lines: ["1-p", "1-c, s1-q-s2"],
    NumberList: ["1", "1, 3", ""],
    CurvePoints: ["0 0; 255 255", "0 40; 96 20; 180 230; 255 200", "30 255; 200 0"],
    RampStops: ["", "0 #EFE4CF; 45 #C2694C 60% (30); 100 #26374F", "10 #000; 90 #FFF"],
    LengthCode: ["5 : 2 : 3", "1 : 1"],
    Weights: ["", "3, 1", "0, 2, 1"],
    PaintedMask: ["", "hides 20 60 100: 0,0 5,8\nshows 9 0 50: 3,3"],
    Text: ["1-3, 3-5, 5-1", "1-c", "s1-s2"],
}


def values(name, dial):
    """Values a dial takes, kept small enough to be evaluated quickly."""
    if isinstance(dial, NumberDial):
        low, high = max(dial.least, dial.slides[0]), min(dial.most, dial.slides[1])
        if dial.kind in ("count", "seed"):
            return st.integers(int(low), min(int(high), 12))
        number = st.floats(max(low, min(8.0, high)) if name in ("pitch", "row_pitch", "size") else low, high)
        varied = st.builds(
            Varied,
            rule=st.just("floor-lattice"),
            channel=st.sampled_from(CHANNELS),
            start=number,
            end=number,
            curve=st.sampled_from(CURVES),
        )
        return st.one_of(number, varied) if dial.vary else number
    if isinstance(dial, Choice):
        return st.sampled_from(dial.options)
    if isinstance(dial, Palette):
        return st.lists(COLOURS, min_size=1, max_size=6).map(tuple)
    if isinstance(dial, Colour):
        return st.one_of(COLOURS, st.just(""))
    if isinstance(dial, Point):
        return st.builds(
            Anchor, spot=st.sampled_from([f"{who} {spot}" for who in ("motif", "sheet") for spot in SPOTS]), dx=st.floats(-20, 20)
        )
    if isinstance(dial, RuleChoice):
        return st.sampled_from([key for key, _ in dial.others] + [""] * bool(dial.nearest) + ["floor-lattice"])
    if isinstance(dial, Touches):
        place = st.tuples(st.just("floor-lattice"), st.integers(-2, 2), st.integers(-2, 2))
        number = st.floats(-30, 30)
        touch = st.builds(Touch, at=st.lists(place, min_size=1, max_size=2).map(tuple), x=number, y=number, turn=number)
        return st.lists(touch, max_size=3).map(tuple)
    if isinstance(dial, Pixels):
        return st.integers(1, 5).flatmap(
            lambda wide: st.lists(st.text(PIXEL_SIGNS, min_size=wide, max_size=wide), min_size=1, max_size=5).map("/".join)
        )
    return st.sampled_from(next(some for kind, some in TEXTS.items() if isinstance(dial, kind)))


@st.composite
def rules_of(draw, kind):
    fields = {name: draw(values(name, dial)) for name, dial in kind.dials().items() if draw(st.booleans())}
    return kind.model_validate({"kind": kind.model_fields["kind"].default, "on": draw(st.booleans()), **fields})


FISH = sample_picture("fish")
MOTIFS = [kind for kind in RULES if issubclass(kind, MotifRule)]
MIDDLE = [kind for kind in RULES if kind.family not in ("motif", "end") and kind is not Lattice]


@st.composite
def varied(draw, repeat, low, high):
    """A number that varies in one of the ways there are, by the repeat of this id."""
    number = st.floats(low, high)
    way = draw(st.sampled_from(["run", "formula", "second", "in turn", "loop", "picture"]))
    start, end = draw(number), draw(number)
    channel = draw(st.sampled_from([one for one in CHANNELS if one not in ("picture", "loop", "part")]))
    plain = Varied(rule=repeat, channel=channel, start=start, end=end)
    match way:
        case "formula":
            return plain.model_copy(update={"formula": f"{(start + end) / 2:.3f} + sin(a) + col / 9"})
        case "second":
            return plain.model_copy(update={"second": Second(rule=repeat, channel="row", how="mean")})
        case "in turn":
            return Varied(rule=repeat, channel="step", start=start, end=end, taken=(start, (start + end) / 2, end))
        case "loop":
            return Varied(rule=repeat, channel=channel, start=start, end=end, midway=(end, start))
        case "picture":
            return Varied(rule=repeat, channel="picture", start=start, end=end, picture=FISH.id)
    return plain


@st.composite
def chains(draw, name):
    """A chain of any motif, a small repeat, at most two rules of any kind, and an ink."""
    columns, rows = draw(st.integers(1, 4)), draw(st.integers(1, 3))
    repeat = Lattice(extent="by number", columns=columns, rows=rows, spacing="free", pitch=24.0, row_pitch=24.0)
    motif = draw(st.sampled_from(MOTIFS))()
    lengths = [one for one in ("size", "width", "length") if one in motif.dials() and motif.dials()[one].kind == "length"]
    for sized in lengths[:1]:
        number = st.floats(10.0, 30.0)
        size = draw(st.one_of(number, varied(f"{name}-lattice", 10.0, 30.0)) if motif.dials()[sized].vary else number)
        motif = type(motif).model_validate(motif.model_dump() | {sized: size})
    some = [draw(rules_of(kind)) for kind in draw(st.lists(st.sampled_from(MIDDLE), max_size=2))]
    ink = Ink(palette=tuple(draw(st.lists(COLOURS, min_size=1, max_size=3))), opacity=draw(st.sampled_from([100.0, 60.0])))
    made = chain(name, motif, *some, ink, repeat)
    end = LayerEnd(
        id=made.end.id, opacity=draw(st.sampled_from([100.0, 45.0])), blend=draw(st.sampled_from(["normal", "multiply", "screen"]))
    )
    return made.model_copy(update={"end": end, "hidden": draw(st.integers(0, 4)) == 0})


@st.composite
def designs(draw):
    """Two to four chains, some in groups within groups, perhaps a veil, a mask, a picture and a named dial."""
    layers = [draw(chains(f"part-{k}")) for k in range(draw(st.integers(2, 4)))]
    if draw(st.booleans()):
        inner = Group(id="inner", handle="inner", name="Inner", layers=(layers.pop(),))
        end = LayerEnd(isolated=draw(st.sampled_from(["yes", "no"])), opacity=draw(st.sampled_from([100.0, 50.0])))
        layers.append(Group(id="outer", handle="outer", name="Outer", layers=(inner,), end=end))
    if draw(st.booleans()):
        layers.insert(0, Veil(id="veil", handle="veil", name="Veil", rules=(Ink(id="veil-ink", handle="ink"),)))
    if draw(st.booleans()) and len(layers) > 1:
        first = layers[-1]
        how = {draw(st.sampled_from(["mask", "clip"])): layers[-2].id}
        if layers[-2].chains():
            layers[-1] = first.model_copy(update={"end": first.end.model_copy(update=how)})
    design = Design(name="Made up", sheet=Sheet(width=120, height=100), layers=tuple(layers), pictures=(FISH,))
    if draw(st.booleans()):
        owner = design.chains()[0]
        motif = owner.rules[0]
        numbers = {name for name in motif.dials() if isinstance(getattr(motif, name), float)}
        lengths = [name for name, dial in motif.dials().items() if dial.kind == "length" and name in numbers]
        for name in lengths[:1]:
            design = add_named(design, owner.id, motif.id, name, "Span")
    return design
