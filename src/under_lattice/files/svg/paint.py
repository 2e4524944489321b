"""How the shapes of an SVG file are painted: fill and stroke, opacity, widths and simple ramps."""

from __future__ import annotations

from collections.abc import Callable
from xml.etree import ElementTree

import numpy as np
from tinycss2 import color4  # type: ignore[import-untyped]

from under_lattice.colour.ramp import FOCUS_MOST, Ramp, Stop
from under_lattice.declare.shape_list import Laid, Row
from under_lattice.files.svg.cut import Clips, band_of, dashed
from under_lattice.files.svg.style import HREF, Style, local, share_of
from under_lattice.files.svg.tree import NUMBER, Met, Tree, Viewport, transform_of
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.geometry.path_text import Part

RAMPS = {"linearGradient": "linear", "radialGradient": "radial"}
STOPS_MOST = 100
CLEAR = np.zeros(4, np.uint8)
FOLLOWED_MOST = 8  # ramps that take over from each other


class Paints:
    """Reads the paints of a file; what cannot be followed is noted in its tree."""

    def __init__(self, tree: Tree) -> None:
        self.styles, self.missing, self._named = tree.styles, tree.missing, tree.named

    def rows(self, met: Met, part: Part, drawn: Part, clips: Clips) -> list[Row]:
        """Return a shape, as it lies on the drawing, with its paint, cut as it is to be; widths in px of the drawing.

        `part` is what is filled, `drawn` along what its line goes. It is one row unless these differ, it is cut, or its line is
        dashed or has a ramp: then fill and line are rows of their own.
        """
        style, points = met.style, part[1]
        fill, ramp = self._colour(style["fill"] if met.tag != "line" else "none", style, "fill-opacity", met, points)
        stroke, along = self._colour(style["stroke"], style, "stroke-opacity", met, points)
        a, b, c, d = met.through[:4]
        scale = abs(a * d - b * c) ** 0.5
        width = max(met.viewport.length(style["stroke-width"], "r", 1.0) * scale, 0.0)
        rounded = "round" in (style["stroke-linecap"], style["stroke-linejoin"])
        seen = bool(stroke[3]) and width > 0
        dashes = dashed(drawn, style, met.viewport, scale) if seen and style["stroke-dasharray"] != "none" else None
        if seen and dashes is None and NUMBER.search(style["stroke-dasharray"]) and style["stroke-dasharray"].strip("0 ,"):
            self.missing["dashes"] += 1
        cut = clips.cut(met, part, width / 2 if seen else 0.0)
        if cut is None and dashes is None and along is None and not (seen and drawn[0] != part[0]):
            return [Row(fill, stroke, width, part, ramp, rounded)]
        out = []
        if fill[3]:
            pieces = clips.cut(met, part)
            out += [Row(fill, CLEAR, 0.0, piece, ramp) for piece in ([part] if pieces is None else pieces)]
        if seen:
            out += self._line(Row(CLEAR, stroke, width, dashes or drawn, None, rounded), along, met, clips)
        return out

    def _line(self, line: Row, along: Laid | None, met: Met, clips: Clips) -> list[Row]:
        """A line as it is, or as the band it covers where it has a ramp or is cut."""
        if along is None and clips.cut(met, line.part, line.width / 2) is None:
            return [line]
        band = band_of(line.part, line.width, met.style, met.viewport.length(met.style["stroke-miterlimit"], "x", 4.0))
        if band is None:
            return []
        pieces = clips.cut(met, band)
        return [Row(line.stroke, CLEAR, 0.0, piece, along) for piece in ([band] if pieces is None else pieces)]

    def _colour(self, text: str, style: Style, share: str, met: Met, points: Array) -> tuple[Array, Laid | None]:
        """The colour of a paint and its ramp, if it has one; clear where there is none."""
        strength = share_of(style[share]) * float(style["through"])
        if text.startswith("url("):
            name, _, other = text.removeprefix("url(").partition(")")
            element = self._named.get(name.strip("'\" ").removeprefix("#"))
            if element is not None and local(element) in RAMPS:
                return self._ramp(element, strength, met, points)
            if element is not None:
                self.missing[f"{local(element)} fill"[:30]] += 1
            text = other.strip() or ("none" if element is None else "gray")
        return _bytes(text, style["color"], strength), None

    def _ramp(self, element: ElementTree.Element, strength: float, met: Met, points: Array) -> tuple[Array, Laid | None]:
        """A ramp as it lies on the drawing, its mean colour where it has one colour only."""
        chain = self._followed(element)
        said = {key: value for one in reversed(chain) for key, value in one.attrib.items() if key not in ("id", HREF, "href")}
        stops = self._stops(next((one for one in chain if any(local(s) == "stop" for s in one)), element))
        if not stops:
            return np.zeros(4, np.uint8), None
        solid = round(255 * min(max(strength, 0.0), 1.0))
        if len({stop[1:3] for stop in stops}) == 1:
            rgb = bytes.fromhex(stops[0].colour[1:])
            return np.array([*rgb, round(solid * stops[0].alpha)], np.uint8), None
        if said.get("spreadMethod", "pad") != "pad":
            self.missing["ramp that repeats"] += 1
        form = RAMPS[local(element)]
        seat, focus = self._seat(said, form, met, points)
        if not np.isfinite(seat).all() or abs(np.linalg.det(seat[:, :2])) < 1e-12:  # of no length: its last colour
            return np.array([*bytes.fromhex(stops[-1].colour[1:]), solid], np.uint8), None
        return np.array([255, 255, 255, solid], np.uint8), Laid(Ramp(tuple(stops), form, focus=focus), seat)  # type: ignore[arg-type]

    def _followed(self, element: ElementTree.Element) -> list[ElementTree.Element]:
        """A ramp and those it takes over from, itself first."""
        chain = [element]
        while len(chain) < FOLLOWED_MOST:
            target = self._named.get((chain[-1].get("href") or chain[-1].get(HREF) or "").removeprefix("#"))
            if target is None or target in chain or local(target) not in RAMPS:
                break
            chain.append(target)
        return chain

    def _stops(self, element: ElementTree.Element) -> list[Stop]:
        stops: list[Stop] = []
        for one in [child for child in element if local(child) == "stop"][:STOPS_MOST]:
            style = self.styles.said_of(one)
            place = max(share_of(style.get("offset", "0")), stops[-1].place if stops else 0.0)
            colour = _bytes(style.get("stop-color", "black"), style.get("color", "black"), share_of(style.get("stop-opacity", "1")))
            stops.append(Stop(place, "#" + bytes(colour[:3].tolist()).hex().upper(), float(colour[3]) / 255))
        return stops

    @staticmethod
    def _aside(said: dict[str, str], length: Callable[[str, str], float]) -> Array:
        """How far the focus of a round ramp lies off its middle (2,), in shares of its radius; zero where it is next to nothing."""
        middle = [length("cx", "50%"), length("cy", "50%")]
        focus = [length(key, "50%") if key in said else at for key, at in zip(("fx", "fy"), middle, strict=True)]
        aside = (np.array(focus) - middle) / max(length("r", "50%"), 1e-9)
        return aside if np.isfinite(aside).all() and np.abs(aside).max() > 1e-6 else np.zeros(2)

    def _seat(self, said: dict[str, str], form: str, met: Met, points: Array) -> tuple[Array, float]:
        """From the ramp's own place to the drawing (2, 3), and how far along x its focus is."""
        through = _matrix(met.through)
        boxed = said.get("gradientUnits", "objectBoundingBox") != "userSpaceOnUse"
        frame, focus = Viewport(1.0, 1.0) if boxed else met.viewport, 0.0

        def length(key: str, other: str) -> float:
            along = "r" if key == "r" else "y" if "y" in key else "x"
            return frame.length(said.get(key, other), along)

        if form == "linear":
            x1, y1, x2, y2 = length("x1", "0%"), length("y1", "0%"), length("x2", "100%"), length("y2", "0%")
            own = np.array([[x2 - x1, y1 - y2, x1], [y2 - y1, x2 - x1, y1]])
        else:
            x, y, r = length("cx", "50%"), length("cy", "50%"), length("r", "50%")
            aside = self._aside(said, length)
            far = float(np.hypot(*aside))
            turn, focus = (aside / far, min(far, FOCUS_MOST)) if far else (np.array([1.0, 0.0]), 0.0)
            own = np.array([[r * turn[0], -r * turn[1], x], [r * turn[1], r * turn[0], y]])
        if not np.isfinite(own).all():
            return np.zeros((2, 3)), 0.0  # it lies nowhere
        seat = compose(_matrix(transform_of(said.get("gradientTransform", ""))), own)
        if boxed:
            inside = apply(inverse(through), points) if abs(np.linalg.det(through[:, :2])) > 1e-12 else points
            low, high = inside.min(0), inside.max(0)
            seat = compose(np.array([[high[0] - low[0], 0, low[0]], [0, high[1] - low[1], low[1]]]), seat)
        return np.asarray(compose(through, seat)), focus


def _matrix(t: tuple[float, ...]) -> Array:
    """A transform (a, b, c, d, e, f) as a map (2, 3)."""
    return np.array([[t[0], t[2], t[4]], [t[1], t[3], t[5]]], float)


def _bytes(text: str, current: str, strength: float) -> Array:
    """A colour with its alpha (4,) bytes; nothing for none, black for what is no colour."""
    if text in ("none", "transparent", ""):
        return np.zeros(4, np.uint8)
    found = color4.parse_color(current if text.lower() == "currentcolor" else text)
    if found is None or isinstance(found, str):
        return np.array([0, 0, 0, round(255 * min(max(strength, 0.0), 1.0))], np.uint8)
    rgb = [min(max(float(one or 0.0), 0.0), 1.0) for one in found.to("srgb").coordinates]
    return np.array([round(255 * one) for one in (*rgb, min(max(found.alpha * strength, 0.0), 1.0))], np.uint8)
