"""What is drawn on a page of a PDF: layers with their opacity, blend, clip and mask, and the shapes in them."""

from __future__ import annotations

from typing import Any

import numpy as np
from pikepdf import Name

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import CLOSE, MOVE, areas, backwards
from under_lattice.output.outlines import Drawn, clip_outlines, drawn_of
from under_lattice.output.pdf.paints import alpha_mask, draw_texture, luminosity, shading_pattern
from under_lattice.output.pdf.streams import BLENDS, Book, Stream, everywhere
from under_lattice.output.svg_paints import Seen
from under_lattice.output.turning import turning_picture
from under_lattice.pattern.coats import line_room
from under_lattice.pattern.marks import Marks, Picture, Plate, Several
from under_lattice.scene.along import pieced
from under_lattice.scene.painted import over_sheet
from under_lattice.scene.tree import Mask, Node, Scene, SceneGroup, SceneLayer, whole_page

JOINS = {"mitre": 0, "round": 1, "bevel": 2}
CAPS = {"butt": 0, "round": 1, "square": 2}
MASK_PX = 1600  # of the longer side of a mask that goes over evenly
MITRE = 4  # times the width, beyond which a mitre is cut off, as in SVG


def draw_layer(into: Stream, layer: Node, white: bool = False) -> None:
    """Draw a layer or group; in white where it is a mask by opacity."""
    assert isinstance(layer, SceneLayer | SceneGroup)  # veils are pictures by now
    book = into.book
    together = layer.opacity < 1 or layer.blend != "normal" or layer.isolated or layer.mask is not None
    into.lines.append("q")
    if layer.clip is not None:
        into.lines.append(_clip(into, layer.clip))
    if together:
        own = Stream(book)
        _members(own, layer, white)
        entries: dict[str, Any] = {}
        if layer.opacity < 1:
            entries |= {"ca": round(layer.opacity, 4), "CA": round(layer.opacity, 4)}
        if layer.blend != "normal":
            entries["BM"] = Name("/" + BLENDS.get(layer.blend, "Normal"))
        if layer.mask is not None:
            entries["SMask"] = _mask(book, layer.mask, white)
        if entries:
            into.state(**entries)
        into.draw(own.form(group=True))
    else:
        _members(into, layer, white)
    into.lines.append("Q")


def _members(into: Stream, layer: SceneLayer | SceneGroup, white: bool) -> None:
    if isinstance(layer, SceneGroup):
        for member in reversed(layer.members):
            draw_layer(into, member, white)
    else:
        draw_picture(into, layer.picture, white)


def _clip(into: Stream, picture: Picture) -> str:
    """The operators that let through what the outlines of a picture cover; all run the same way, so that none cuts another."""
    paths = []
    for verbs, points in clip_outlines(picture):
        against = verbs.count(MOVE) == verbs.count(CLOSE) and areas(verbs, points[None])[0] < 0
        paths.append(into.path(*(backwards(verbs, points) if against else (verbs, points))))
    return "\n".join(paths) + " W n" if paths else "0 0 0 0 re W n"


def _mask(book: Book, mask: Mask, white: bool) -> Any:
    """A mask by what its layers paint: as light as it is, or, by opacity, all of it in white."""
    own = Stream(book)
    if mask.feather > 0:
        draw_texture(own, _painted(book, mask), None)
        return luminosity(own)
    for layer in reversed(mask.layers):
        draw_layer(own, layer, white or mask.by == "opacity")
    if mask.inverted:  # white, less what the mask has of it
        outer = Stream(book)
        outer.lines.append(f"1 1 1 rg {everywhere(book)} f")
        outer.state(BM=Name.Difference)
        outer.draw(own.form(group=True))
        own = outer
    return luminosity(own)


def _painted(book: Book, mask: Mask) -> Texture:
    """How much a mask lets through, as a picture of greys over all that is drawn: no PDF can say what goes over evenly."""
    from under_lattice.render.paint import paint  # loads the compiled kernels

    wide, high = (2 * float(v) for v in book.half)
    scene = Scene(wide, high, "", (SceneLayer("", over_sheet(wide, high), mask=mask),))
    seen = paint(scene, whole_page(scene, round(MASK_PX * min(1.0, wide / high))), book.progress)
    greys = np.repeat(seen[..., 3:], 4, 2)
    greys[..., 3] = 255
    return Texture(greys, np.array([(1 / wide, 0.0, 0.5), (0.0, 1 / high, 0.5)]), of_marks=False)


def draw_picture(into: Stream, picture: Picture, white: bool = False) -> None:
    """Draw the shapes of a picture with all their coats."""
    picture = pieced(picture)
    marks = picture.marks
    for one in drawn_of(picture, into.book.hairline, white, into.book.progress):
        _shape(into, one, marks)


def _shape(into: Stream, one: Drawn, marks: Marks) -> None:
    """Draw one shape with one coat: its fill, then its line."""
    verbs, own = one.outline(marks)
    path = into.path(verbs, apply(one.xform, own))
    apart = one.fill[3] and one.stroke[3] and one.coat.blend != "normal" and not one.coat.lines
    target = Stream(into.book) if apart else into
    paint = _paint_of(into.book, one, marks)
    place = one._replace(shared=False).paint_place() if paint is not None else None
    if one.fill[3]:
        _fill(target, one, path, None if one.coat.lines else paint, place, marks, "normal" if apart else one.coat.blend)
    if one.stroke[3]:
        _stroke(target, one, path, paint if one.coat.lines else None, place, marks, "normal" if apart else one.coat.blend)
    if apart:  # fill and line mix with what is beneath as one
        into.lines.append("q")
        into.state(BM=Name("/" + BLENDS.get(one.coat.blend, "Normal")))
        into.draw(target.form(group=True))
        into.lines.append("Q")


def _paint_of(book: Book, one: Drawn, marks: Marks) -> Ramp | Texture | Plate | None:
    """What a shape is filled with besides a colour; a ramp round a point is a picture."""
    paint = one.coat.paint
    if isinstance(paint, Several):
        return paint.pictures[int(paint.which[one.mark])]
    if isinstance(paint, Ramp) and paint.form == "around":
        key = "turning", id(one.coat)
        if key not in book.kept:
            book.kept[key] = turning_picture(one.coat, paint, marks)
            book.holding.append(one.coat)
        return book.kept[key]
    return paint if isinstance(paint, Ramp | Texture | Plate) else None


def _state(into: Stream, alpha: float, blend: str, of_line: bool, mask: Any = None) -> None:
    entries: dict[str, Any] = {}
    if alpha < 1:
        entries["CA" if of_line else "ca"] = round(alpha, 4)
    if blend != "normal":
        entries["BM"] = Name("/" + BLENDS.get(blend, "Normal"))
    if mask is not None:
        entries["SMask"] = mask
    if entries:
        into.state(**entries)


def _fill(into: Stream, one: Drawn, path: str, paint: Any, place: Array | None, marks: Marks, blend: str) -> None:
    rule = "*" if one.coat.even_odd else ""
    alpha = float(one.fill[3]) / 255
    plain = paint is None and alpha == 1 and blend == "normal"
    if plain:
        into.lines.append(f"{into.colour(one.fill, False)} {path} f{rule}")
        return
    into.lines.append("q")
    if isinstance(paint, Ramp):
        _state(into, alpha, blend, False, None if paint.opaque else alpha_mask(into.book, paint, place))
        pattern = shading_pattern(into.book, paint, place)
        into.lines.append(f"/Pattern cs {into.use('Pattern', pattern, id(pattern))} scn {path} f{rule}")
    elif paint is None:
        _state(into, alpha, blend, False)
        into.lines.append(f"{into.colour(one.fill, False)} {path} f{rule}")
    else:
        _state(into, alpha, blend, False)
        into.lines.append(f"{path} W{rule} n")
        _inside(into, one, paint, place, marks, alpha < 1 or blend != "normal")
    into.lines.append("Q")


def _inside(into: Stream, one: Drawn, paint: Texture | Plate, place: Array | None, marks: Marks, together: bool) -> None:
    """Draw a picture or the marks of another layer, which are clipped already."""
    if isinstance(paint, Texture):
        draw_texture(into, paint, place)
        return
    seen: Seen = into.book.kept.setdefault(("seen", id(paint)), Seen(paint))
    points = apply(one.xform, one.outline(marks)[1])
    if place is not None:
        left, top, right, bottom = paint.box
        points = np.array([(left, top), (right, bottom)])
    room = line_room((one.coat,)) if one.coat.lines else 0.0
    target = Stream(into.book) if together or place is not None else into
    draw_picture(target, seen.within(np.concatenate([points - room, points + room])))
    if target is not into:
        into.lines.append("q " + into.map(place) if place is not None else "q")
        into.draw(target.form(group=together))
        into.lines.append("Q")


def _line(into: Stream, one: Drawn) -> str:
    """The operators of a line's width, joins, ends and dashes."""
    out = f"{into.number(one.width)} w {JOINS[one.coat.join]} j {CAPS[one.coat.cap]} J {MITRE} M"
    if one.dash is not None:
        lengths = " ".join(into.number(length) for length in one.dash.lengths)
        out += f" [{lengths}] {into.number(one.dash.offset)} d"
    return out


def _stroke(into: Stream, one: Drawn, path: str, paint: Any, place: Array | None, marks: Marks, blend: str) -> None:
    alpha = float(one.stroke[3]) / 255
    into.lines.append("q")
    if isinstance(paint, Ramp):
        _state(into, alpha, blend, True, None if paint.opaque else alpha_mask(into.book, paint, place))
        pattern = shading_pattern(into.book, paint, place)
        into.lines.append(f"/Pattern CS {into.use('Pattern', pattern, id(pattern))} SCN {_line(into, one)} {path} S")
    elif paint is None:
        _state(into, alpha, blend, True)
        into.lines.append(f"{into.colour(one.stroke, True)} {_line(into, one)} {path} S")
    else:  # what is seen where the line is
        mask = Stream(into.book)
        mask.lines.append(f"1 1 1 RG {_line(mask, one)} {path} S")
        _state(into, alpha, blend, False, luminosity(mask))
        _inside(into, one, paint, place, marks, True)
    into.lines.append("Q")
