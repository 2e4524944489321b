"""Outlines brought in from an SVG file: paths and basic shapes with their transforms, nothing that runs or is fetched."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from itertools import islice
from xml.etree import ElementTree

import numpy as np
from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path.parser import parse_path

from under_lattice.core.errors import FileError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.shape_list import Row
from under_lattice.files.svg.cut import Clips
from under_lattice.files.svg.paint import Paints
from under_lattice.files.svg.style import local
from under_lattice.files.svg.tree import NUMBER, Met, Tree, Viewport, view_box
from under_lattice.files.svg.winding import with_winding
from under_lattice.geometry.affine import IDENTITY, Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, flatten
from under_lattice.geometry.path_text import PARTS_MOST, POINTS_MOST, Part, parts_of_text, text_of_parts

BYTES_MOST = 20_000_000
STEPS = 32  # straight pieces for each curve where the size of all is measured
WIDE = 1000.0  # the outline is kept this wide
WHY = {
    "text": "letters have no outline of their own here",
    "image": "a picture has no outline",
    "use": "what it repeats is not in the file, or repeats itself",
    "clip-path": "it is not one of a path, or lies in the box of a group: shapes are brought in whole",
    "mask": "shapes are brought in whole",
    "filter": "outlines have no filter",
    "dashes": "there are too many: the line is whole here",
    "opacity of a group": "each of its shapes is made clear by itself",
    "ramp with a focus aside": "its focus is its middle",
    "ramp that repeats": "it goes on in its last colour",
    "pattern fill": "it is grey",
    "style rule": "its selector is not known here",
    "script": "nothing in a file is run",
    "foreignObject": "not a drawing",
}


@dataclass(frozen=True)
class BroughtIn:
    """An outline as text, how wide it is in px where the file says so, and what was left out, with the reason.

    The same shapes with their paints are the `rows` of a list, as wide as the outline. `onto` (2, 3) maps them onto the page of the
    drawing, in px from its middle, and `page_px` is how large that is.
    """

    text: str
    width_px: float
    left_out: tuple[str, ...]
    rows: tuple[Row, ...] = ()
    onto: Array = field(default_factory=lambda: IDENTITY)
    page_px: tuple[float, float] = (0.0, 0.0)


def _declares(data: bytes) -> bool:
    """Tell whether a file declares anything of its own: entities, or whatever stands in the brackets of a document type."""
    large = data.upper()
    begin = large.find(b"<!DOCTYPE")
    end = large.find(b">", begin) if begin >= 0 else -1
    bracket = large.find(b"[", begin, end if end >= 0 else None) if begin >= 0 else -1
    again = large.find(b"<!DOCTYPE", begin + 1) if begin >= 0 else -1  # there is at most one in a file
    return b"<!ENTITY" in large or bracket >= 0 or again >= 0


def read_svg(data: bytes, name: str, progress: Progress = QUIET) -> BroughtIn:
    """Return the outlines of an SVG file.

    Raises
    ------
    FileError
        Says what is wrong; nothing is taken over.
    GivenUp
    """
    if len(data) > BYTES_MOST:
        raise FileError(f"{name} has {len(data) / 1e6:.0f} MB; an SVG may have {BYTES_MOST // 1_000_000} MB")
    if _declares(data):
        raise FileError(f"{name} declares entities, which are not read; save it as plain SVG")
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, RecursionError, ValueError, LookupError) as error:  # the last two: encodings
        raise FileError(f"{name} is not an SVG file: {error}") from None
    if local(root) != "svg":
        raise FileError(f"{name} is not an SVG file: it begins with “{local(root)[:30]}”")
    parts, painted, missing = _parts(root, name, progress)
    if not parts:
        told = f"; left out: {', '.join(_told(missing))}" if missing else ""
        raise FileError(f"{name} has no outline to bring in{told}")
    if len(parts) > PARTS_MOST:  # more shapes than parts can be told apart: they are one
        parts = [(b"".join(verbs for verbs, _ in parts), np.concatenate([points for _, points in parts]))]
    joined = np.concatenate([line[0] for verbs, points in parts for line in flatten(verbs, points[None], STEPS)])
    low, high = joined.min(0), joined.max(0)
    size = float((high - low).max())
    if not size > 0:
        raise FileError(f"{name} has no outline to bring in: all its points lie on one spot")
    wide = float(high[0] - low[0]) or size
    middle, scale = (low + high) / 2, WIDE / wide
    text = text_of_parts([(verbs, (points - middle) * scale) for verbs, points in parts])
    parts_of_text(text)
    onto = np.array([[scale, 0.0, -middle[0] * scale], [0.0, scale, -middle[1] * scale]])
    rows = tuple(row.through(onto) for row in painted)
    unit = _unit(root)
    box = view_box(root) or (0.0, 0.0, *(Viewport(0.0, 0.0).length(root.get(side, "")) for side in ("width", "height")))
    with np.errstate(all="ignore"):
        page = np.array(box) * unit
    if not np.isfinite(page).all():
        raise FileError(f"{name} gives its page a size that is no number")
    away = (middle - np.array([box[0] + box[2] / 2, box[1] + box[3] / 2])) * unit
    back = np.array([[unit / scale, 0.0, away[0]], [0.0, unit / scale, away[1]]])
    return BroughtIn(text, wide * unit, _told(missing), rows, back, (box[2] * unit, box[3] * unit))


def _told(missing: Counter[str]) -> tuple[str, ...]:
    return tuple(f"{count} × {tag} ({WHY.get(tag, 'not known here')})" for tag, count in sorted(missing.items()))  # noqa: RUF001


def _parts(root: ElementTree.Element, name: str, progress: Progress) -> tuple[list[Part], list[Row], Counter[str]]:
    """The shapes in their order, the same with their paints, and how often what else was met."""
    tree, parts, painted = Tree(root, name), [], []
    paints, clips, count = Paints(tree), Clips(tree, _shape), 0
    for met in tree.shapes():
        progress.step(tree.share)
        filled = met.style["fill"] != "none" and met.tag != "line"
        if not filled and met.style["stroke"] == "none":
            continue  # nothing of it is seen
        _refuse_long(count + _points_at_least(met), name)
        try:
            part = _shape(met, filled)
            if part is not None and filled and met.style["fill-rule"] == "evenodd":
                part = with_winding(part)
            line = _shape(met, False) if part is not None and filled and met.style["stroke"] != "none" else part
            rows = paints.rows(met, part, line or part, clips) if part is not None else []
        except (ValueError, IndexError, KeyError, TypeError, OverflowError, ZeroDivisionError) as error:
            raise FileError(f"{name}: a {met.tag} cannot be read ({str(error)[:60]})") from None
        if part is None:
            tree.missing[f"empty {met.tag}"] += 1
        parts += [row.part for row in rows]
        painted += rows
        count += sum(len(row.part[1]) for row in rows)
        _refuse_long(count, name)
    return parts, painted, tree.missing


def _refuse_long(count: int, name: str) -> None:
    if count > POINTS_MOST:
        raise FileError(f"{name} has more than {POINTS_MOST:,} points, which is the most that can be brought in")


def _points_at_least(met: Met) -> int:
    """How many points a long outline has at least, before it is read: two numbers make one, of an arc seven."""
    data = met.element.get("d", "") or met.element.get("points", "")
    if len(data) < 2 * POINTS_MOST:
        return 0
    each = 7 if "a" in data.lower() else 2
    return sum(1 for _ in islice(NUMBER.finditer(data), each * (POINTS_MOST + 1))) // each


def _shape(met: Met, filled: bool) -> Part | None:
    """The outline of a shape; what is filled is closed, as every reader fills it."""
    data = met.element.get("d", "") if met.tag == "path" else _data_of(met)
    if not data.strip():
        return None
    pen = RecordingPen()
    parse_path(data, TransformPen(pen, met.through))
    verbs, points, home = bytearray(), [], (0.0, 0.0)  # type: tuple[bytearray, list[tuple[float, float]], tuple[float, float]]
    for kind, args in [*pen.value, ("endPath", ())]:
        if filled and kind in ("moveTo", "endPath") and verbs and verbs[-1] not in (CLOSE, MOVE):
            verbs.append(CLOSE)
        if kind == "closePath":
            if len(verbs) > 2 and verbs[-1] == LINE and points[-1] == home:  # closing draws this line
                verbs.pop()
                points.pop()
            verbs.append(CLOSE)
        elif kind == "qCurveTo":  # one control point, as the cubic it is
            start, (control, end) = points[-1], args
            near, far = (tuple(a + (c - a) * 2 / 3 for a, c in zip(at, control, strict=True)) for at in (start, end))
            verbs.append(CURVE)
            points += [near, far, end]
        elif kind != "endPath":
            verbs.append({"moveTo": MOVE, "lineTo": LINE, "curveTo": CURVE}[kind])
            points += args
            home = points[-1] if kind == "moveTo" else home
    array = np.array(points, float).reshape(-1, 2)
    if len(verbs) < 2 or not len(array):
        return None
    if not np.isfinite(array).all() or np.abs(array).max() > 1e9:
        raise ValueError("a number is not finite or far too large")
    return bytes(verbs), array


def _data_of(met: Met) -> str:
    """A basic shape as path data."""
    element, tag = met.element, met.tag

    def number(key: str, other: float = 0.0) -> float:
        along = "r" if key == "r" else "y" if key in ("y", "y1", "y2", "cy", "ry", "height") else "x"
        return met.viewport.length(element.get(key, ""), along, other)

    if tag in ("polyline", "polygon"):
        values = NUMBER.findall(element.get("points", ""))
        values = values[: len(values) // 2 * 2]
        return ("M" + " ".join(values) + ("Z" if tag == "polygon" else "")) if len(values) >= 4 else ""
    if tag == "line":
        return f"M{number('x1')!r} {number('y1')!r}L{number('x2')!r} {number('y2')!r}"
    if tag == "rect":
        x, y, w, h = number("x"), number("y"), number("width"), number("height")
        rx, ry = number("rx", number("ry")), number("ry", number("rx"))
        rx, ry = min(rx, w / 2), min(ry, h / 2)
        if w <= 0 or h <= 0:
            return ""
        if not rx or not ry:
            return f"M{x!r} {y!r}H{x + w!r}V{y + h!r}H{x!r}Z"
        arc = f"A{rx!r} {ry!r} 0 0 1 "
        return (
            f"M{x + rx!r} {y!r}H{x + w - rx!r}{arc}{x + w!r} {y + ry!r}V{y + h - ry!r}{arc}{x + w - rx!r} {y + h!r}"
            f"H{x + rx!r}{arc}{x!r} {y + h - ry!r}V{y + ry!r}{arc}{x + rx!r} {y!r}Z"
        )
    rx, ry = (number("r"), number("r")) if tag == "circle" else (number("rx"), number("ry"))
    x, y = number("cx"), number("cy")
    return (
        f"M{x + rx!r} {y!r}A{rx!r} {ry!r} 0 1 1 {x - rx!r} {y!r}A{rx!r} {ry!r} 0 1 1 {x + rx!r} {y!r}Z" if rx > 0 and ry > 0 else ""
    )


def _unit(root: ElementTree.Element) -> float:
    """Px for each unit the drawing is made in."""
    box, width = view_box(root), Viewport(0.0, 0.0).length(root.get("width", ""))
    return width / box[2] if box is not None and width > 0 else 1.0
