"""The shapes of an SVG file in the order they are drawn: groups, repeated parts and inner viewports followed, nothing fetched."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple
from xml.etree import ElementTree

from fontTools.misc.transform import Identity, Transform

from under_lattice.core.errors import FileError
from under_lattice.files.svg.style import HREF, ROOT, Style, Styles, local, share_of

ELEMENTS_MOST = 50_000
DEPTH_MOST = 100
SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
GROUPS = {"svg", "g", "a", "switch", "symbol"}
SILENT = {"title", "desc", "metadata", "defs", "style", "namedview", "symbol", "clipPath", "mask", "marker", "linearGradient",
          "radialGradient", "pattern", "filter", "view"}  # fmt: skip
TRANSFORM = re.compile(r"(?<!\w)(\w++)\s*+\(([^()]*+)\)")  # what it has taken it does not give back: a long one takes no longer
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
PX = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "pt": 96 / 72, "pc": 16.0, "q": 96 / 101.6}


class Clip(NamedTuple):
    """What is cut by a clip path: the element that says what stays, where that lies, and whether it is laid in the shape's box."""

    element: ElementTree.Element
    through: Transform
    viewport: Viewport
    boxed: bool


class Viewport(NamedTuple):
    """What per cent are taken of and the size of letters, in px, and by what all inside is cut."""

    width: float
    height: float
    font: float = 16.0
    clips: tuple[Clip, ...] = ()

    def length(self, text: str, along: str = "x", other: float = 0.0) -> float:
        """Return a length; `along` says whether per cent are of the width (x), the height (y), or of both (r)."""
        found = re.fullmatch(rf"\s*({NUMBER.pattern})\s*([a-zA-Z%]*)\s*", text)
        if not found:
            return other
        value, unit = float(found[1]), found[2].lower()
        if unit == "%":
            whole = {"x": self.width, "y": self.height}.get(along, math.hypot(self.width, self.height) / math.sqrt(2))
            return value / 100 * whole
        return value * {"em": self.font, "ex": self.font / 2, "rem": 16.0}.get(unit, PX.get(unit, 1.0))


@dataclass(frozen=True)
class Met:
    """A shape as it is met: its element, where it lies, how it is drawn, and the viewport it stands in."""

    element: ElementTree.Element
    tag: str
    through: Transform
    style: Style
    viewport: Viewport


def view_box(element: ElementTree.Element) -> tuple[float, float, float, float] | None:
    """Return the view box of an element, if it has one with a size."""
    box = [float(one) for one in NUMBER.findall(element.get("viewBox", ""))]
    return (box[0], box[1], box[2], box[3]) if len(box) == 4 and box[2] > 0 and box[3] > 0 else None


class Tree:
    """Walks a file.

    Attributes
    ----------
    missing : Counter
        How often what cannot be drawn here was met, by its name.
    named : dict
        Elements by their ids.
    """

    def __init__(self, root: ElementTree.Element, name: str) -> None:
        self.root, self.name = root, name
        self.styles = Styles(root)
        self.missing: Counter[str] = Counter(self.styles.missing)
        self._count = sum(1 for _ in root.iter())
        if self._count > ELEMENTS_MOST:
            raise FileError(f"{name} has more than {ELEMENTS_MOST:,} elements")
        self.named = {key: one for one in root.iter() if (key := one.get("id"))}
        self._seen = 0

    @property
    def share(self) -> float:
        """How much of the file is read, from 0 to 1; what is used more than once counts each time."""
        return min(self._seen / self._count, 1.0)

    def shapes(self) -> Iterator[Met]:
        """Yield the shapes that are drawn, in their order.

        Raises
        ------
        FileError
            Where there is more of anything than is read.
        """
        box = view_box(self.root)
        whole = Viewport(0.0, 0.0)
        size = (box[2], box[3]) if box else tuple(whole.length(self.root.get(side, "")) or 100.0 for side in ("width", "height"))
        yield from self._inside(self.root, Identity, self.styles.of(self.root, ROOT), Viewport(size[0], size[1]), ())

    def _inside(
        self, group: ElementTree.Element, through: Transform, style: Style, viewport: Viewport, path: tuple[int, ...]
    ) -> Iterator[Met]:
        children = list(group)
        if local(group) == "switch":
            children = [one for one in children if _suits(one)][:1]
        for child in children:
            yield from self._element(child, through, style, viewport, path)

    def _element(
        self, element: ElementTree.Element, outer: Transform, around: Style, viewport: Viewport, path: tuple[int, ...]
    ) -> Iterator[Met]:
        self._seen += 1
        if self._seen > ELEMENTS_MOST:
            raise FileError(f"{self.name} has more than {ELEMENTS_MOST:,} elements")
        if len(path) > DEPTH_MOST:
            raise FileError(f"{self.name} is nested more than {DEPTH_MOST} deep")
        tag = local(element)
        if not tag or (tag in SILENT and tag != "symbol"):
            return
        style = self.styles.of(element, around)
        if style.get("display") == "none" or tag == "symbol":
            return
        through, inner = outer.transform(self._transform(element)), (*path, id(element))
        viewport = viewport._replace(font=viewport.length(style["font-size"], "x", viewport.font))
        viewport = viewport._replace(clips=viewport.clips + self._cut(style, through, viewport, tag in SHAPES))
        if tag in SHAPES:
            self._note(style)
            if style["visibility"] not in ("hidden", "collapse"):
                yield Met(element, tag, through, style, viewport)
        elif tag == "use":
            yield from self._used(element, through, style, viewport, inner)
        elif tag == "svg":
            yield from self._viewport(element, element, through, style, viewport, inner)
        elif tag in GROUPS:
            self._note(style)
            if share_of(style.get("opacity", "1")) < 1:
                self.missing["opacity of a group"] += 1
            yield from self._inside(element, through, style, viewport, inner)
        else:
            self.missing[tag[:30]] += 1

    def _transform(self, element: ElementTree.Element) -> Transform:
        try:
            return transform_of(element.get("transform", ""))
        except (ValueError, IndexError, TypeError, OverflowError) as error:
            raise FileError(f"{self.name}: a transform cannot be read ({str(error)[:60]})") from None

    def _note(self, style: Style) -> None:
        """Name what is not followed: what an element is masked or filtered by."""
        for what in ("mask", "filter"):
            if style.get(what, "none") != "none":
                self.missing[what] += 1

    def _cut(self, style: Style, through: Transform, viewport: Viewport, shape: bool) -> tuple[Clip, ...]:
        """What an element is cut by: nothing where its clip path is not in the file, as every reader has it."""
        text = style.get("clip-path", "none")
        if text == "none":
            return ()
        element = self.named.get(text.removeprefix("url(").rstrip(")").strip("'\" ").removeprefix("#"))
        if element is None and text.startswith("url("):
            return ()
        boxed = element is not None and element.get("clipPathUnits") == "objectBoundingBox"
        if element is None or local(element) != "clipPath" or (boxed and not shape):
            self.missing["clip-path"] += 1
            return ()
        return (Clip(element, through, viewport._replace(clips=()), boxed),)

    def kept_by(self, clip: Clip, through: Transform) -> Iterator[Met]:
        """Yield the shapes a clip path is made of, laid `through` a map.

        Raises
        ------
        FileError
        """
        style = self.styles.of(clip.element, ROOT)
        placed = through.transform(self._transform(clip.element))
        viewport = clip.viewport._replace(clips=self._cut(style, through, clip.viewport, False))
        yield from self._inside(clip.element, placed, style, viewport, (id(clip.element),))

    def _used(
        self, use: ElementTree.Element, through: Transform, style: Style, viewport: Viewport, path: tuple[int, ...]
    ) -> Iterator[Met]:
        target = self.named.get((use.get("href") or use.get(HREF) or "").removeprefix("#"))
        if target is None or id(target) in path:
            self.missing["use"] += 1
            return
        self._note(style)
        moved = through.translate(viewport.length(use.get("x", "")), viewport.length(use.get("y", ""), "y"))
        if local(target) in ("symbol", "svg"):
            inner = self.styles.of(target, style)
            if inner.get("display") != "none":
                yield from self._viewport(target, use, moved, inner, viewport, (*path, id(target)), placed=False)
        else:
            yield from self._element(target, moved, style, viewport, path)

    def _viewport(
        self,
        element: ElementTree.Element,
        sized: ElementTree.Element,
        through: Transform,
        style: Style,
        viewport: Viewport,
        path: tuple[int, ...],
        placed: bool = True,
    ) -> Iterator[Met]:
        """What is in an inner viewport, or in a symbol that is used; `sized` says how large it is."""
        wide, high = (
            viewport.length(sized.get(side, "") or element.get(side, ""), along, whole)
            for side, along, whole in (("width", "x", viewport.width), ("height", "y", viewport.height))
        )
        if placed:
            through = through.translate(viewport.length(element.get("x", "")), viewport.length(element.get("y", ""), "y"))
        box = view_box(element)
        if box is not None:
            through = through.transform(fitted(box, wide, high, element.get("preserveAspectRatio", "")))
            wide, high = box[2], box[3]
        yield from self._inside(element, through, style, viewport._replace(width=wide, height=high), path)


def fitted(box: tuple[float, float, float, float], wide: float, high: float, how: str) -> Transform:
    """Return the map of a view box into a viewport, as `preserveAspectRatio` says."""
    x, y, w, h = box
    across, down = wide / w, high / h
    if "none" not in how:
        across = down = max(across, down) if "slice" in how else min(across, down)
    left = {"xMin": 0.0, "xMax": 1.0}.get(how.strip()[:4], 0.5) * (wide - across * w)
    top = {"YMin": 0.0, "YMax": 1.0}.get(how.strip()[4:8], 0.5) * (high - down * h)
    if "none" in how:
        left = top = 0.0
    return Transform(across, 0, 0, down, left - across * x, top - down * y)


def transform_of(text: str) -> Transform:
    """Return the map of a transform attribute; what stands first is done last."""
    whole = Identity
    for kind, inner in TRANSFORM.findall(text):
        v = [float(one) for one in NUMBER.findall(inner)]
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


def _suits(element: ElementTree.Element) -> bool:
    """Whether a reader like this one may choose an element of a switch."""
    language = element.get("systemLanguage")
    return bool(local(element)) and not element.get("requiredExtensions") and (language is None or "en" in language)
