"""SVG 1.1: real page size, a group for each layer, shared shapes, curves as curves, and the live recipe."""

from __future__ import annotations

import base64
import hashlib
import re
from dataclasses import dataclass, field
from html import escape
from typing import Annotated, ClassVar

import numpy as np

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.declare.dials import Count
from under_lattice.declare.option_dials import Switch
from under_lattice.files.canonical import drawing_digest
from under_lattice.files.recipe import SPACE
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.geometry.path_text import path_data
from under_lattice.output.format import Format, Job, Need
from under_lattice.output.outlines import Drawn, clip_outlines, drawn_of, hairline
from under_lattice.output.plain import areas_on_page, inside, lie_beside, lines_on_page
from under_lattice.output.png import png_of
from under_lattice.output.turning import turning_picture
from under_lattice.pattern.marks import Coat, Dash, Marks, Picture
from under_lattice.scene.tree import Mask, Scene, SceneGroup, SceneLayer, leaves
from under_lattice.work.model import Design, Sheet, Work

NOT_TEXT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")  # what no XML file may hold
PLUS = "Plus-lighter is known to browsers; other readers lay such layers on as normal ones."
TURNING = "Ramps round a point stand in it as pictures: SVG has no such ramp."
FINER = 4  # decimals more where an outline is shown more than once: neighbours may share corners, or meet a side


class Svg(Format):
    """Outlines for cutting, plotting and print."""

    ending: ClassVar[str] = "svg"
    title: ClassVar[str] = "SVG"
    words: ClassVar[str] = "outlines for cutting, plotting, print"
    needs: ClassVar[frozenset[Need]] = frozenset({"outlines"})

    plain: Annotated[
        bool, Switch("Plain paths", "Each shape where it lies, cut off at the page; nothing is shared or clipped.")
    ] = False
    seals: Annotated[bool, Switch("Sealed seams", "Shapes of one colour that touch are one path; for screens.")] = False
    digits: Annotated[
        int, Count("Decimals", "Of places on the page; shapes shown more than once have four more.", least=0, most=9, main=False)
    ] = 4

    def notes(self, design: Design) -> tuple[str, ...]:
        """Say where readers lack what is used: a mode of blending that only browsers know."""
        rules = [rule for _, rule in design.every_rule() if rule.on]
        plus = any(getattr(rule, "blend", "") == "plus-lighter" for rule in rules)
        turning = any(getattr(rule, "inside", "") == "turning ramp" for rule in rules)
        return (PLUS,) * plus + (TURNING,) * turning

    def write(self, job: Job) -> bytes:
        """Return the SVG.

        Raises
        ------
        GivenUp
        """
        return write_svg(job.scene, job.sheet, self, job.work, job.progress)


@dataclass
class _Writer:
    """Collects definitions and lines while the layers are written."""

    digits: int
    progress: Progress
    definitions: list[str] = field(default_factory=list)
    lines: list[str] = field(default_factory=list)
    named: int = 0
    ramps: dict[tuple[int, bytes], str] = field(default_factory=dict)
    pictures: dict[int, str] = field(default_factory=dict)
    turning: dict[int, Texture] = field(default_factory=dict)
    hairline: float = 0.0
    everywhere: str = ""
    clips: int = 0
    mark: str = ""  # of this drawing
    plain: bool = False
    seals: bool = False
    half: Array = field(default_factory=lambda: np.zeros(2))  # of the page
    white: bool = False  # whether everything is written in white, for a mask by opacity

    def name(self, kind: str, number: int = 0) -> str:
        """Return the id of a part; no other drawing has it, so that two may stand on one page."""
        return f"{kind}{number or ''}_{self.mark}"

    def number(self, value: float, more: int = 0) -> str:
        return short(float(value), self.digits + more)


def write_svg(scene: Scene, sheet: Sheet, options: Svg, work: Work | None = None, progress: Progress = QUIET) -> bytes:
    """Return the SVG as bytes.

    Raises
    ------
    GivenUp
    """
    w = _Writer(options.digits, progress)
    w.hairline, w.mark, w.plain, w.seals = hairline(sheet), _mark_of(scene), options.plain, options.seals
    w.half = np.array([scene.width, scene.height]) / 2
    x, y = w.number(-scene.width / 2), w.number(-scene.height / 2)
    w.everywhere = f'x="{x}" y="{y}" width="{w.number(scene.width)}" height="{w.number(scene.height)}"'
    for layer in reversed(scene.layers):
        _layer(w, layer)
    wide, high = w.number(scene.width), w.number(scene.height)
    head = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" '
        f'width="{_real(w, scene.width, sheet)}" height="{_real(w, scene.height, sheet)}" viewBox="0 0 {wide} {high}">',
    ]
    ground = (
        [f'<rect width="{wide}" height="{high}" fill="{scene.background}"/>']
        if scene.background and not options.transparent
        else []
    )
    middle = f"translate({w.number(scene.width / 2)} {w.number(scene.height / 2)})"
    page = f'<clipPath id="{w.name("page")}"><rect width="{wide}" height="{high}"/></clipPath>'
    clipped = "" if w.plain else f' clip-path="url(#{w.name("page")})"'
    body = ["<defs>" + page * (not w.plain), *w.definitions, "</defs>"]
    body += [
        f'<g{clipped} style="isolation:isolate">',
        *ground,
        f'<g transform="{middle}">',
        *w.lines,
        "</g></g>",
        "</svg>",
        "",
    ]
    drawing = "\n".join(head) + "\n" + "\n" + "\n".join(body)
    if work is None or not options.recipe:
        return drawing.encode()
    recipe = (
        f'<metadata><ul:recipe xmlns:ul="{SPACE}" drawing="{drawing_digest(drawing.encode())}">'
        f"{escape(NOT_TEXT.sub(_as_json, to_text(work, None)), False)}</ul:recipe></metadata>"
    )
    return ("\n".join(head) + "\n" + recipe + "\n" + "\n".join(body)).encode()


def _as_json(found: re.Match[str]) -> str:
    """A character as JSON text may write it."""
    return f"\\u{ord(found[0]):04x}"


def _mark_of(scene: Scene) -> str:
    """A short hash of what is drawn."""
    told = hashlib.sha1(repr((scene.width, scene.height, scene.background)).encode(), usedforsecurity=False)
    for layer in leaves(scene.layers):
        marks = layer.picture.marks
        for part in (marks.xform, *(family.points for family in marks.families), *(coat.fill for coat in layer.picture.coats)):
            told.update(np.ascontiguousarray(part).tobytes())
    return told.hexdigest()[:6]


def _real(w: _Writer, value: float, sheet: Sheet) -> str:
    if sheet.unit == "px":  # a stated resolution makes px a real length
        return f"{short(value / sheet.resolution, 6)}in" if sheet.resolution != 96 else f"{w.number(value)}px"
    return f"{w.number(value)}{sheet.unit}"


def _layer(w: _Writer, layer: SceneLayer | SceneGroup) -> None:
    styles = [f"mix-blend-mode:{layer.blend}"] if layer.blend != "normal" else []
    if layer.isolated:
        styles.append("isolation:isolate")
    style = f' style="{";".join(styles)}"' if styles else ""
    if w.plain and (layer.clip is not None or layer.mask is not None):
        raise InputError(
            f"“{layer.name}” has a {'clip' if layer.clip is not None else 'mask'}, which plain paths cannot say; trim it instead"
        )
    if layer.clip is not None:
        style += f' clip-path="url(#{_clip(w, layer.clip)})"'
    if layer.mask is not None:
        style += f' mask="url(#{_mask(w, layer.mask)})"'
    opacity = f' opacity="{short(layer.opacity, 4)}"' if layer.opacity < 1 else ""
    w.lines.append(f"<g{opacity}{style}><title>{escape(NOT_TEXT.sub('', layer.name), False)}</title>")
    if isinstance(layer, SceneGroup):
        for member in reversed(layer.members):
            _layer(w, member)
    else:
        _picture(w, layer.picture)
    w.lines.append("</g>")


def _clip(w: _Writer, picture: Picture) -> str:
    """Name a clip by the outlines of a picture."""
    w.clips += 1
    name = w.name("c", w.clips)
    outlines = [f'<path d="{path_data(verbs, points, w.digits)}"/>' for verbs, points in clip_outlines(picture)]
    w.definitions.append(f'<clipPath id="{name}">{"".join(outlines)}</clipPath>')
    return name


def _mask(w: _Writer, mask: Mask) -> str:
    """Name a mask by what its layers paint: as light as it is, or, by opacity, all of it in white."""
    w.clips += 1
    name, before, white = w.name("m", w.clips), w.lines, w.white
    w.lines, w.white = [], white or mask.by == "opacity"
    for layer in reversed(mask.layers):
        _layer(w, layer)
    if mask.inverted:  # white, less what the mask has of it
        w.lines = [f'<rect {w.everywhere} fill="#FFFFFF"/>', '<g style="mix-blend-mode:difference">', *w.lines, "</g>"]
    # beyond the layers nothing is painted, and black lets nothing through
    w.definitions.append(f'<mask id="{name}" maskUnits="userSpaceOnUse" {w.everywhere}>{"".join(w.lines)}</mask>')
    w.lines, w.white = before, white
    return name


def _picture(w: _Writer, picture: Picture) -> None:
    marks = picture.marks
    if w.seals and _sealed(w, picture):
        return
    names: dict[tuple[int, int, bool], str] = {}
    paints: dict[tuple[int, bytes, bytes], str] = {}
    more = FINER if marks.distinct < marks.count else 0
    for one in drawn_of(picture, w.hairline, w.white, w.progress):
        if w.plain:
            _plainly(w, one, marks, w.digits + more)
            continue
        shape = one.family, one.variant, one.against
        if one.shared and shape not in names:
            w.named += 1
            names[shape] = w.name("s", w.named)
            w.definitions.append(f'<path id="{names[shape]}" d="{path_data(*one.outline(marks), w.digits + more)}"/>')
        key = (id(one.coat), one.fill.tobytes(), one.stroke.tobytes())
        if key not in paints:
            paints[key] = _attributes(one.fill, one.stroke, one.coat)
        paint = paints[key]
        if RAMP_HERE in paint:
            paint = paint.replace(RAMP_HERE, _ramp_at(w, one.coat, one.paint_place(), marks))
        line = f' stroke-width="{w.number(one.width / one.scale)}"' if one.width else ""
        line += _dashes(w, one.dash, one.scale) if one.dash is not None else ""
        if one.shared:
            w.lines.append(f'<use xlink:href="#{names[shape]}"{_transform(w, one.xform, more)}{paint}{line}/>')
        else:
            verbs, points = one.outline(marks)
            data = path_data(verbs, apply(one.xform, points), w.digits + more)
            w.lines.append(f'<path d="{data}"{paint}{line}/>')


def _plainly(w: _Writer, one: Drawn, marks: Marks, digits: int) -> None:
    """Write a shape where it lies, what of it lies on the page; what is cut off has its fill and its line apart."""
    one = one._replace(shared=False, scale=1.0)
    verbs, own = one.outline(marks)
    points = apply(one.xform, own)
    line = f' stroke-width="{w.number(one.width)}"' if one.width else ""
    line += _dashes(w, one.dash, 1.0) if one.dash is not None else ""
    seen = inside(points, w.half)
    if seen:
        w.lines.append(f'<path d="{path_data(verbs, points, digits)}"{_painted(w, one, marks)}{line}/>')
    if seen is not None:
        return
    clear = np.zeros(4, np.uint8)
    if one.fill[3]:
        paint = _painted(w, one._replace(stroke=clear), marks)
        w.lines += [f'<path d="{path_data(*part, digits)}"{paint}/>' for part in areas_on_page(verbs, points, w.half)]
    if one.stroke[3]:
        paint = _painted(w, one._replace(fill=clear), marks)
        w.lines += [f'<path d="{path_data(*part, digits)}"{paint}{line}/>' for part in lines_on_page(verbs, points, w.half)]


def _painted(w: _Writer, one: Drawn, marks: Marks) -> str:
    """The attributes of a shape's paint, its ramp laid."""
    paint = _attributes(one.fill, one.stroke, one.coat)
    return paint.replace(RAMP_HERE, _ramp_at(w, one.coat, one.paint_place(), marks)) if RAMP_HERE in paint else paint


def _sealed(w: _Writer, picture: Picture) -> bool:
    """Write all shapes of one colour as one path; only where they are plain and none lies over one of another colour."""
    drawn = list(drawn_of(picture, w.hairline, w.white, w.progress))
    if not drawn or not all(one.is_plain(picture.marks) for one in drawn):
        return False
    placed, colours = [], []
    for one in drawn:
        verbs, own = one.outline(picture.marks)
        points, colour = apply(one.xform, own), one.fill.tobytes()
        seen = inside(points, w.half) if w.plain else True
        shown = areas_on_page(verbs, points, w.half) if seen is None else [(verbs, points)] if seen else []
        placed += shown
        colours += [colour] * len(shown)
    if not lie_beside(placed, colours, w.progress):
        return False
    for colour in dict.fromkeys(colours):
        data = "".join(path_data(*one, w.digits) for one, its in zip(placed, colours, strict=True) if its == colour)
        w.lines.append(f'<path d="{data}" fill="{_hex(np.frombuffer(colour, np.uint8))}"/>')
    return True


def _dashes(w: _Writer, dash: Dash, scale: float) -> str:
    """Dash attributes, in the place of a shape seen at `scale`."""
    text = f' stroke-dasharray="{" ".join(w.number(one / scale) for one in dash.lengths)}"'
    return text + (f' stroke-dashoffset="{w.number(dash.offset / scale)}"' if dash.offset else "")


RAMP_HERE = "url(#?)"


def _ramp_at(w: _Writer, coat: Coat, place: Array | None, marks: Marks) -> str:
    """Name a gradient for a coat's ramp, defined once for each place it is brought to; one round a point is a picture."""
    if isinstance(coat.paint, Texture):
        return _texture_at(w, coat.paint, place)
    if not isinstance(coat.paint, Ramp):
        return RAMP_HERE
    ramp = coat.paint
    if ramp.form == "around":
        if id(coat) not in w.turning:
            w.turning[id(coat)] = turning_picture(coat, ramp, marks)
        return _texture_at(w, w.turning[id(coat)], place)
    to = inverse(ramp.to_ramp)
    to = to if place is None else compose(place, to)
    key = (id(ramp), to.tobytes())
    if key not in w.ramps:
        w.ramps[key] = name = w.name("r", len(w.ramps) + 1)
        kind, ends = ("linearGradient", 'x1="0" y1="0" x2="1" y2="0"')
        if ramp.form == "radial":
            kind, ends = ("radialGradient", 'cx="0" cy="0" r="1"')
        matrix = " ".join(short(float(v), 7) for v in (*to[:, 0], *to[:, 1], *to[:, 2]))
        plain = not ramp.oklab and all(stop.middle == 0.5 for stop in ramp.stops)
        stops = [(s.place, s.colour, s.alpha) for s in ramp.stops] if plain else _sampled(ramp)
        inner = "".join(
            f'<stop offset="{short(t, 4)}" stop-color="{colour}"'
            + (f' stop-opacity="{short(alpha, 4)}"' if alpha < 1 else "")
            + "/>"
            for t, colour, alpha in stops
        )
        w.definitions.append(
            f'<{kind} id="{name}" gradientUnits="userSpaceOnUse" {ends} gradientTransform="matrix({matrix})">{inner}</{kind}>'
        )
    return f"url(#{w.ramps[key]})"


def _texture_at(w: _Writer, texture: Texture, place: Array | None) -> str:
    """Name a pattern of one picture, written once, for each place it is brought to."""
    to = inverse(texture.to_picture)
    to = to if place is None else compose(place, to)
    key = (id(texture), to.tobytes())
    if key not in w.ramps:
        if id(texture) not in w.pictures:
            w.pictures[id(texture)] = name = w.name("p", len(w.pictures) + 1)
            data = base64.b64encode(png_of(texture.pixels)).decode("ascii")
            w.definitions.append(
                f'<image id="{name}" width="1" height="1" preserveAspectRatio="none" xlink:href="data:image/png;base64,{data}"/>'
            )
        w.ramps[key] = name = w.name("r", len(w.ramps) + 1)
        matrix = " ".join(short(float(v), 7) for v in (*to[:, 0], *to[:, 1], *to[:, 2]))
        w.definitions.append(
            f'<pattern id="{name}" patternUnits="userSpaceOnUse" width="1" height="1" patternTransform="matrix({matrix})">'
            f'<use xlink:href="#{w.pictures[id(texture)]}"/></pattern>'
        )
    return f"url(#{w.ramps[key]})"


def _sampled(ramp: Ramp, steps: int = 33) -> list[tuple[float, str, float]]:
    """A ramp that SVG has no words for, as many plain stops."""
    table = ramp.table(steps)
    straight = np.rint(table[:, :3] / np.maximum(table[:, 3:], 1e-6) * 255).astype(np.uint8)
    return [(k / (steps - 1), _hex(straight[k]), float(table[k, 3])) for k in range(steps)]


def _transform(w: _Writer, xform: Array, more: int) -> str:
    x, y = (w.number(value, more) for value in xform[:, 2])
    if np.array_equal(xform[:, :2], np.eye(2)):
        return (f' x="{x}"' if x != "0" else "") + (f' y="{y}"' if y != "0" else "")
    linear = " ".join(short(v, 9) for v in (xform[0, 0], xform[1, 0], xform[0, 1], xform[1, 1]))
    return f' transform="matrix({linear} {x} {y})"'


def _attributes(fill: Array, stroke: Array, coat: Coat) -> str:
    if not fill[3] and not stroke[3]:
        return ""
    colour = RAMP_HERE if isinstance(coat.paint, (Ramp, Texture)) else _hex(fill)
    text = f' fill="{colour}"' if fill[3] else ' fill="none"'
    if 0 < fill[3] < 255:
        text += f' fill-opacity="{short(fill[3] / 255, 4)}"'
    if coat.even_odd:
        text += ' fill-rule="evenodd"'
    if stroke[3]:
        text += f' stroke="{_hex(stroke)}"'
        text += f' stroke-linejoin="{ {"mitre": "miter"}.get(coat.join, coat.join) }"' if coat.join != "mitre" else ""
        text += f' stroke-linecap="{coat.cap}"' if coat.cap != "butt" else ""
        text += f' stroke-opacity="{short(stroke[3] / 255, 4)}"' if stroke[3] < 255 else ""
    if coat.blend != "normal":
        text += f' style="mix-blend-mode:{coat.blend}"'
    return text


def _hex(rgba: Array) -> str:
    return "#" + "".join(f"{v:02X}" for v in rgba[:3])
