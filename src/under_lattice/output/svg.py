"""SVG 1.1: real page size, a group for each layer, shared shapes, curves as curves, and the live recipe."""

from __future__ import annotations

import re
from html import escape
from typing import Annotated, Any, ClassVar

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.declare.dials import Count, When
from under_lattice.declare.option_dials import Switch
from under_lattice.files.canonical import drawing_digest
from under_lattice.files.recipe import SPACE
from under_lattice.files.storage import to_text
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.path_text import path_data
from under_lattice.output.format import WITH_RECIPE, WITHOUT_GROUND, Format, Job, Need, Purpose
from under_lattice.output.outlines import Drawn, clip_outlines, drawn_of, hairline
from under_lattice.output.plain import areas_on_page, inside, lie_beside, lines_on_page
from under_lattice.output.svg_finishes import as_pictures, primitives_of, reach_of, said_by_filter
from under_lattice.output.svg_page import as_pattern, head_of
from under_lattice.output.svg_paints import RAMP_HERE, Seen, Writer, attributes, hex_of, image_of, ramp_at
from under_lattice.pattern.coats import line_room
from under_lattice.pattern.marks import Dash, Marks, Picture, Plate
from under_lattice.render.finish.closing import has_finishes
from under_lattice.render.paint import without_finishes
from under_lattice.scene.along import pieced
from under_lattice.scene.mark import mark_of
from under_lattice.scene.tree import Mask, Node, Scene, SceneGroup, SceneVeil, whole_page
from under_lattice.work.model import Design, Sheet, Work

OF_CELL = (When(field="part", values=("the cell",), reason="only for the cell"),)
NOT_TEXT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")  # what no XML file may hold
PLUS = "Plus-lighter is known to browsers; other readers lay such layers on as normal ones."
PICTURE_PX = 2400  # px of the longer side of what goes out as a picture
FINISHED = "As pictures, the sheet {} px long, stand in it: {}."
TURNING = "Ramps round a point stand in it as pictures: SVG has no such ramp."
FINER = 4  # decimals more where an outline is shown more than once: neighbours may share corners, or meet a side


class Svg(Format):
    """Outlines for cutting, plotting and print."""

    ending: ClassVar[str] = "svg"
    title: ClassVar[str] = "SVG"
    words: ClassVar[str] = "outlines for cutting, plotting, print"
    needs: ClassVar[frozenset[Need]] = frozenset({"outlines"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("drawing", "web page")

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    recipe: Annotated[bool, WITH_RECIPE] = True
    plain: Annotated[
        bool, Switch("Plain paths", "Each shape where it lies, cut off at the page; nothing is shared or clipped.")
    ] = False
    pattern: Annotated[
        bool,
        Switch(
            "As a pattern", "The cell stands once in the file, as <pattern>, and fills a page as large as the sheet.", when=OF_CELL
        ),
    ] = False
    seals: Annotated[bool, Switch("Sealed seams", "Shapes of one colour that touch are one path; for screens.")] = False
    digits: Annotated[
        int, Count("Decimals", "Of places on the page; shapes shown more than once have four more.", least=0, most=9, main=False)
    ] = 4

    @classmethod
    def first_for(cls, purpose: Purpose | None) -> dict[str, Any]:
        """Return a file without the recipe, and few decimals, for a web page."""
        return {"recipe": False, "digits": 2} if purpose == "web page" else {}

    def notes(self, design: Design) -> tuple[str, ...]:
        """Say where readers lack what is used: a mode of blending that only browsers know."""
        rules = [rule for _, rule in design.every_rule() if rule.on]
        plus = any(getattr(rule, "blend", "") == "plus-lighter" for rule in rules)
        turning = any(getattr(rule, "inside", "") == "turning ramp" for rule in rules)
        pictures = as_pictures(design.layers)
        finished = (FINISHED.format(PICTURE_PX, ", ".join(pictures)),) if pictures else ()
        return (PLUS,) * plus + (TURNING,) * turning + finished

    def write(self, job: Job) -> bytes:
        """Return the SVG.

        Raises
        ------
        GivenUp
        """
        return write_svg(job.scene, job.sheet, self, job.work, job.progress, job.tile)


def write_svg(
    scene: Scene, sheet: Sheet, options: Svg, work: Work | None = None, progress: Progress = QUIET, tile: Array | None = None
) -> bytes:
    """Return the SVG as bytes; with `tile` (2, 2) a pattern is filled with that parallelogram.

    Raises
    ------
    GivenUp
    """
    if has_finishes(scene.layers):
        if options.plain:
            raise InputError("finishes are pixels, which plain paths cannot say; switch them off, or write a PNG")
        px = options.picture_width(scene, work, PICTURE_PX)
        scene = without_finishes(scene, whole_page(scene, px), progress, said_by_filter)
    w = Writer(options.digits, progress)
    w.hairline, w.mark, w.plain, w.seals = hairline(sheet), mark_of(scene), options.plain, options.seals
    w.half = np.array([scene.width, scene.height]) / 2
    x, y = w.number(-scene.width / 2), w.number(-scene.height / 2)
    w.everywhere = f'x="{x}" y="{y}" width="{w.number(scene.width)}" height="{w.number(scene.height)}"'
    for layer in reversed(scene.layers):
        _layer(w, layer)
    wide, high = w.number(scene.width), w.number(scene.height)
    head = head_of(w, scene.width, scene.height, sheet)
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
    if options.fills_sheet and work is not None:
        head, body = as_pattern(w, scene, body, work.design.sheet, tile)
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


def _layer(w: Writer, layer: Node) -> None:
    assert not isinstance(layer, SceneVeil)  # those are pictures by now
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
        _finished(w, layer.picture)
    w.lines.append("</g>")


def _finished(w: Writer, picture: Picture) -> None:
    """Write a picture, with the filter that does what its finishes do."""
    if not picture.closed:
        _picture(w, picture)
        return
    w.clips += 1
    name = w.name("e", w.clips)
    made = primitives_of(picture, lambda value: w.number(value))
    w.definitions.append(f'<filter id="{name}" {_region(w, reach_of(picture))} color-interpolation-filters="sRGB">{made}</filter>')
    w.lines.append(f'<g filter="url(#{name})">')
    _picture(w, picture)
    w.lines.append("</g>")


def _region(w: Writer, room: float) -> str:
    """The region of a filter: the page and so much beside it."""
    x, y = w.number(-w.half[0] - room), w.number(-w.half[1] - room)
    wide, high = w.number(2 * (w.half[0] + room)), w.number(2 * (w.half[1] + room))
    return f'filterUnits="userSpaceOnUse" x="{x}" y="{y}" width="{wide}" height="{high}"'


def _clip(w: Writer, picture: Picture) -> str:
    """Name a clip by the outlines of a picture."""
    w.clips += 1
    name = w.name("c", w.clips)
    outlines = [f'<path d="{path_data(verbs, points, w.digits)}"/>' for verbs, points in clip_outlines(picture)]
    w.definitions.append(f'<clipPath id="{name}">{"".join(outlines)}</clipPath>')
    return name


def _mask(w: Writer, mask: Mask) -> str:
    """Name a mask by what its layers paint: as light as it is, or, by opacity, all of it in white."""
    w.clips += 1
    name, before, white = w.name("m", w.clips), w.lines, w.white
    w.lines, w.white = [], white or mask.by == "opacity"
    for layer in reversed(mask.layers):
        _layer(w, layer)
    if mask.inverted:  # white, less what the mask has of it
        w.lines = [f'<rect {w.everywhere} fill="#FFFFFF"/>', '<g style="mix-blend-mode:difference">', *w.lines, "</g>"]
    if mask.feather > 0:
        blur = w.name("b", w.clips)
        w.definitions.append(_blur(w, blur, mask.feather / 2))
        w.lines = [f'<g filter="url(#{blur})">', *w.lines, "</g>"]
    # beyond the layers nothing is painted, and black lets nothing through
    w.definitions.append(f'<mask id="{name}" maskUnits="userSpaceOnUse" {w.everywhere}>{"".join(w.lines)}</mask>')
    w.lines, w.white = before, white
    return name


def _blur(w: Writer, name: str, deviation: float) -> str:
    """A filter that blurs the page and what lies beside it, in the sRGB that everything is mixed in."""
    blur = f'<feGaussianBlur stdDeviation="{w.number(deviation)}"/>'
    return f'<filter id="{name}" {_region(w, 3 * deviation)} color-interpolation-filters="sRGB">{blur}</filter>'


def _picture(w: Writer, picture: Picture) -> None:
    picture = pieced(picture)
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
        if isinstance(one.coat.paint, Plate) and one.coat.lines:
            _lined(w, one, one.coat.paint, marks)
            continue
        if isinstance(one.coat.paint, Plate) and one.fill[3]:
            _filled(w, one, one.coat.paint, marks)
            one = one._replace(fill=np.zeros(4, np.uint8))
            if not one.stroke[3]:
                continue
        if image := image_of(w, one, marks):
            w.lines.append(image)
            continue
        key = (id(one.coat), one.fill.tobytes(), one.stroke.tobytes())
        if key not in paints:
            paints[key] = attributes(one.fill, one.stroke, one.coat)
        paint = paints[key]
        if RAMP_HERE in paint:
            paint = paint.replace(RAMP_HERE, ramp_at(w, one.coat, one.paint_place(), marks))
        line = f' stroke-width="{w.number(one.width / one.scale)}"' if one.width else ""
        line += _dashes(w, one.dash, one.scale) if one.dash is not None else ""
        if one.shared:
            w.lines.append(f'<use xlink:href="#{names[shape]}"{_transform(w, one.xform, more)}{paint}{line}/>')
        else:
            verbs, points = one.outline(marks)
            data = path_data(verbs, apply(one.xform, points), w.digits + more)
            w.lines.append(f'<path d="{data}"{paint}{line}/>')


def _filled(w: Writer, one: Drawn, plate: Plate, marks: Marks) -> None:
    """Write what a shape is filled with: marks of another layer, cut off at its outline."""
    verbs, own = one.outline(marks)
    points = apply(one.xform, own)
    w.clips += 1
    name = w.name("c", w.clips)
    even_odd = ' clip-rule="evenodd"' if one.coat.even_odd else ""
    w.definitions.append(f'<clipPath id="{name}"><path d="{path_data(verbs, points, w.digits + FINER)}"{even_odd}/></clipPath>')
    opacity = f' opacity="{short(one.fill[3] / 255, 4)}"' if one.fill[3] < 255 else ""
    blend = f' style="mix-blend-mode:{one.coat.blend}"' if one.coat.blend != "normal" else ""
    place = one._replace(shared=False).paint_place()
    drawn = w.plates.setdefault(id(plate), Seen(plate))
    w.lines.append(f'<g clip-path="url(#{name})"{opacity}{blend}>')
    if place is None:
        _picture(w, drawn.within(points))
    else:
        w.lines.append(f'<use xlink:href="#{_plate(w, drawn)}"{_transform(w, place, FINER)}/>')
    w.lines.append("</g>")


def _lined(w: Writer, one: Drawn, plate: Plate, marks: Marks) -> None:
    """Write what a line is filled with: marks of another layer, seen where the line is."""
    verbs, own = one.outline(marks)
    points = apply(one.xform, own)
    w.clips += 1
    name = w.name("m", w.clips)
    white = np.array([255, 255, 255, one.stroke[3]], np.uint8)
    line = _attributes_of_line(w, one._replace(stroke=white, coat=one.coat._replace(paint=None, blend="normal")))
    path = f'<path d="{path_data(verbs, points, w.digits + FINER)}"{line}/>'
    w.definitions.append(f'<mask id="{name}" maskUnits="userSpaceOnUse" {w.everywhere}>{path}</mask>')
    blend = f' style="mix-blend-mode:{one.coat.blend}"' if one.coat.blend != "normal" else ""
    place, room = one._replace(shared=False).paint_place(), line_room((one.coat,))
    drawn = w.plates.setdefault(id(plate), Seen(plate))
    w.lines.append(f'<g mask="url(#{name})"{blend}>')
    if place is None:
        _picture(w, drawn.within(np.concatenate([points - room, points + room])))
    else:
        w.lines.append(f'<use xlink:href="#{_plate(w, drawn)}"{_transform(w, place, FINER)}/>')
    w.lines.append("</g>")


def _attributes_of_line(w: Writer, one: Drawn) -> str:
    """The attributes of a line on the page."""
    text = attributes(np.zeros(4, np.uint8), one.stroke, one.coat) + f' stroke-width="{w.number(one.width, FINER)}"'
    return text + (_dashes(w, one.dash, 1.0) if one.dash is not None else "")


def _plate(w: Writer, drawn: Seen) -> str:
    """Name what shapes are filled with where it is laid anew in each of them; written once."""
    if not drawn.name:
        before, w.lines = w.lines, []
        left, top, right, bottom = drawn.plate.box
        _picture(w, drawn.within(np.array([(left, top), (right, bottom)])))
        w.clips += 1
        drawn.name = w.name("f", w.clips)
        w.definitions.append(f'<g id="{drawn.name}">{"".join(w.lines)}</g>')
        w.lines = before
    return drawn.name


def _plainly(w: Writer, one: Drawn, marks: Marks, digits: int) -> None:
    """Write a shape where it lies, what of it lies on the page; what is cut off has its fill and its line apart."""
    one = one._replace(shared=False, scale=1.0)
    if isinstance(one.coat.paint, Plate):
        raise InputError(
            "shapes are filled with another layer, which plain paths cannot say; trim that layer by these shapes instead"
        )
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


def _painted(w: Writer, one: Drawn, marks: Marks) -> str:
    """The attributes of a shape's paint, its ramp laid."""
    paint = attributes(one.fill, one.stroke, one.coat)
    return paint.replace(RAMP_HERE, ramp_at(w, one.coat, one.paint_place(), marks)) if RAMP_HERE in paint else paint


def _sealed(w: Writer, picture: Picture) -> bool:
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
        w.lines.append(f'<path d="{data}" fill="{hex_of(np.frombuffer(colour, np.uint8))}"/>')
    return True


def _dashes(w: Writer, dash: Dash, scale: float) -> str:
    """Dash attributes, in the place of a shape seen at `scale`."""
    text = f' stroke-dasharray="{" ".join(w.number(one / scale) for one in dash.lengths)}"'
    return text + (f' stroke-dashoffset="{w.number(dash.offset / scale)}"' if dash.offset else "")


def _transform(w: Writer, xform: Array, more: int) -> str:
    x, y = (w.number(value, more) for value in xform[:, 2])
    if np.array_equal(xform[:, :2], np.eye(2)):
        return (f' x="{x}"' if x != "0" else "") + (f' y="{y}"' if y != "0" else "")
    linear = " ".join(short(v, 9) for v in (xform[0, 0], xform[1, 0], xform[0, 1], xform[1, 1]))
    return f' transform="matrix({linear} {x} {y})"'
