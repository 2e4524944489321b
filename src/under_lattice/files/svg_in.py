"""Outlines brought in from an SVG file: paths and basic shapes with their transforms, nothing that runs or is fetched."""

from __future__ import annotations

import math
import re
from collections import Counter
from dataclasses import dataclass
from xml.etree import ElementTree

import numpy as np
from fontTools.misc.transform import Identity, Transform
from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path.parser import parse_path

from under_lattice.core.errors import FileError
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE
from under_lattice.geometry.path_text import PARTS_MOST, POINTS_MOST, Part, parts_of_text, text_of_parts

BYTES_MOST = 20_000_000
ELEMENTS_MOST = 50_000
DEPTH_MOST = 100
WIDE = 1000.0  # the outline is kept this wide
SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
PASSED = {"svg", "g", "a", "switch"}
SILENT = {"title", "desc", "metadata", "defs", "style", "namedview", "symbol", "clipPath", "mask", "marker", "linearGradient",
          "radialGradient", "pattern", "filter"}  # fmt: skip
WHY = {
    "text": "letters have no outline of their own here",
    "image": "a picture has no outline",
    "use": "a repeated part; this program repeats by rules",
    "script": "nothing in a file is run",
    "foreignObject": "not a drawing",
}
PX = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "pt": 96 / 72, "pc": 16.0, "q": 96 / 101.6}


@dataclass(frozen=True)
class BroughtIn:
    """An outline as text, how wide it is in px where the file says so, and what was left out, with the reason."""

    text: str
    width_px: float
    left_out: tuple[str, ...]


def read_svg(data: bytes, name: str) -> BroughtIn:
    """Return the outlines of an SVG file.

    Raises
    ------
    FileError
        Says what is wrong; nothing is taken over.
    """
    if len(data) > BYTES_MOST:
        raise FileError(f"{name} has {len(data) / 1e6:.0f} MB; an SVG may have {BYTES_MOST // 1_000_000} MB")
    if re.search(rb"<!\s*(DOCTYPE[^>]*\[|ENTITY)", data, re.IGNORECASE):
        raise FileError(f"{name} declares entities, which are not read; save it as plain SVG")
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, RecursionError, ValueError) as error:
        raise FileError(f"{name} is not an SVG file: {error}") from None
    if _local(root) != "svg":
        raise FileError(f"{name} is not an SVG file: it begins with “{_local(root)[:30]}”")
    parts, missing = _walk(root, name)
    if not parts:
        told = f"; left out: {', '.join(_told(missing))}" if missing else ""
        raise FileError(f"{name} has no outline to bring in{told}")
    count = sum(len(points) for _, points in parts)
    if count > POINTS_MOST:
        raise FileError(f"{name} has {count:,} points; at most {POINTS_MOST:,} can be brought in")
    if len(parts) > PARTS_MOST:  # more shapes than parts can be told apart: they are one
        parts = [(b"".join(verbs for verbs, _ in parts), np.concatenate([points for _, points in parts]))]
    joined = np.concatenate([points for _, points in parts])
    low, high = joined.min(0), joined.max(0)
    size = float((high - low).max())
    if not size > 0:
        raise FileError(f"{name} has no outline to bring in: all its points lie on one spot")
    wide = float(high[0] - low[0]) or size
    text = text_of_parts([(verbs, (points - (low + high) / 2) * (WIDE / wide)) for verbs, points in parts])
    parts_of_text(text)
    return BroughtIn(text, wide * _unit(root), _told(missing))


def _told(missing: Counter[str]) -> tuple[str, ...]:
    return tuple(f"{count} × {tag} ({WHY.get(tag, 'not known here')})" for tag, count in sorted(missing.items()))  # noqa: RUF001


def _walk(root: ElementTree.Element, name: str) -> tuple[list[Part], Counter[str]]:
    """The shapes in their order, and how often what else was met."""
    parts: list[Part] = []
    missing: Counter[str] = Counter()
    stack, seen = [(root, Identity, 0)], 0
    while stack:
        element, outer, depth = stack.pop()
        seen += 1
        if seen > ELEMENTS_MOST:
            raise FileError(f"{name} has more than {ELEMENTS_MOST:,} elements")
        if depth > DEPTH_MOST:
            raise FileError(f"{name} is nested more than {DEPTH_MOST} deep")
        tag = _local(element)
        if tag in SHAPES:
            try:
                part = _shape(element, tag, outer.transform(_transform(element.get("transform", ""))))
            except (ValueError, IndexError, KeyError, TypeError, OverflowError, ZeroDivisionError) as error:
                raise FileError(f"{name}: a {tag} cannot be read ({str(error)[:60]})") from None
            if part is not None:
                parts.append(part)
            elif element.get("display") != "none":
                missing[f"empty {tag}"] += 1
        elif tag in PASSED and element.get("display") != "none":
            inner = outer.transform(_transform(element.get("transform", "")))
            stack += [(child, inner, depth + 1) for child in reversed(element)]
        elif tag in WHY:
            missing[tag] += 1
        elif tag not in SILENT and tag not in PASSED:
            missing[tag[:30] or "comment"] += 1
    missing.pop("comment", None)
    return parts, missing


def _local(element: ElementTree.Element) -> str:
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def _transform(text: str) -> Transform:
    """The map of a transform attribute; what stands first is done last."""
    whole = Identity
    for kind, inner in re.findall(r"(\w+)\s*\(([^)]*)\)", text):
        v = [float(one) for one in re.split(r"[\s,]+", inner.strip()) if one]
        if kind == "matrix":
            whole = whole.transform(tuple(v[:6]))
        elif kind == "translate":
            whole = whole.translate(v[0], v[1] if len(v) > 1 else 0.0)
        elif kind == "scale":
            whole = whole.scale(v[0], v[1] if len(v) > 1 else v[0])
        elif kind == "rotate":
            x, y = (v[1], v[2]) if len(v) > 2 else (0.0, 0.0)
            whole = whole.translate(x, y).rotate(math.radians(v[0])).translate(-x, -y)
        elif kind in ("skewX", "skewY"):
            angle = math.radians(v[0])
            whole = whole.skew(angle, 0) if kind == "skewX" else whole.skew(0, angle)
    return whole


def _shape(element: ElementTree.Element, tag: str, through: Transform) -> Part | None:
    if element.get("display") == "none":
        return None
    data = element.get("d", "") if tag == "path" else _data_of(element, tag)
    if not data.strip():
        return None
    pen = RecordingPen()
    parse_path(data, TransformPen(pen, through))
    verbs, points, home = bytearray(), [], (0.0, 0.0)  # type: tuple[bytearray, list[tuple[float, float]], tuple[float, float]]
    for kind, args in pen.value:
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


def _data_of(element: ElementTree.Element, tag: str) -> str:
    """A basic shape as path data."""

    def number(key: str, other: float = 0.0) -> float:
        return _length(element.get(key, ""), other)

    if tag in ("polyline", "polygon"):
        values = re.split(r"[\s,]+", element.get("points", "").strip())
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


def _length(text: str, other: float = 0.0) -> float:
    """A length in px; per cent of what is not known is not taken."""
    found = re.fullmatch(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([a-zA-Z]*)\s*", text)
    return float(found[1]) * PX.get(found[2].lower(), 1.0) if found else other


def _unit(root: ElementTree.Element) -> float:
    """Px for each unit the drawing is made in."""
    box = [float(one) for one in re.findall(r"[-+]?(?:\d+\.?\d*|\.\d+)", root.get("viewBox", ""))]
    width = _length(root.get("width", ""))
    return width / box[2] if len(box) == 4 and box[2] > 0 and width > 0 else 1.0
