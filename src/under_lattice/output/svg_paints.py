"""What an SVG is written with: definitions and lines, and the names of colours, ramps and pictures in it."""

from __future__ import annotations

import base64
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from under_lattice.colour.ramp import Ramp
from under_lattice.colour.texture import Texture
from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array, apply, compose, inverse
from under_lattice.output.outlines import Drawn as Shown
from under_lattice.output.png import png_of
from under_lattice.output.turning import turning_picture
from under_lattice.pattern.coats import line_room
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.marks import Coat, Marks, Picture, Plate


@dataclass
class Seen:
    """A layer that shapes are filled with, and the name it was written under."""

    plate: Plate
    name: str = ""

    @cached_property
    def _drawn(self) -> Drawn:
        return Drawn(self.plate.marks)

    def within(self, points: Array) -> Picture:
        """Return what of it may be seen in the box round points (K, 2)."""
        marks = self.plate.marks
        met = self._drawn.meeting((*points.min(0), *points.max(0)), line_room(self.plate.coats))
        return Picture(replace(marks, variant=np.where(met, marks.variant, -1)), self.plate.coats)


@dataclass
class Writer:
    """Collects definitions and lines while the layers are written."""

    digits: int
    progress: Progress
    definitions: list[str] = field(default_factory=list)
    lines: list[str] = field(default_factory=list)
    named: int = 0
    ramps: dict[tuple[int, bytes], str] = field(default_factory=dict)
    pictures: dict[int, str] = field(default_factory=dict)
    turning: dict[int, Texture] = field(default_factory=dict)
    plates: dict[int, Seen] = field(default_factory=dict)
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
        """Return a number in words, with `more` decimals than others."""
        return short(float(value), self.digits + more)


RAMP_HERE = "url(#?)"
SQUARE = np.array([(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)])  # of a picture's own place


def ramp_at(w: Writer, coat: Coat, place: Array | None, marks: Marks) -> str:
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
            kind, ends = ("radialGradient", 'cx="0" cy="0" r="1"' + (f' fx="{short(ramp.focus, 6)}" fy="0"' if ramp.focus else ""))
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


def image_of(w: Writer, one: Shown, marks: Marks) -> str:
    """Return a shape that is just as large as the picture that fills it as that picture: readers draw it sharper than a pattern."""
    texture = one.coat.paint
    if not isinstance(texture, Texture) or one.coat.lines or one.stroke[3] or texture.repeat or one.coat.blend != "normal":
        return ""
    corners = apply(one.xform, one.outline(marks)[1])
    place = one.paint_place()
    to = inverse(texture.to_picture) if place is None else compose(place, inverse(texture.to_picture))
    if one.shared or len(corners) != 4 or np.abs(corners - apply(to, SQUARE)).max() > 1e-9 * np.abs(corners).max():
        return ""
    matrix = " ".join(short(float(v), 9) for v in (*to[:, 0], *to[:, 1], *to[:, 2]))
    faded = f' opacity="{short(one.fill[3] / 255, 4)}"' if one.fill[3] < 255 else ""
    return f'<use xlink:href="#{_picture(w, texture)}" transform="matrix({matrix})"{faded}/>'


def _picture(w: Writer, texture: Texture) -> str:
    """Name a picture, written once."""
    if id(texture) not in w.pictures:
        w.pictures[id(texture)] = name = w.name("p", len(w.pictures) + 1)
        data = base64.b64encode(png_of(texture.pixels)).decode("ascii")
        w.definitions.append(
            f'<image id="{name}" width="1" height="1" preserveAspectRatio="none" xlink:href="data:image/png;base64,{data}"/>'
        )
    return w.pictures[id(texture)]


def _texture_at(w: Writer, texture: Texture, place: Array | None) -> str:
    """Name a pattern of one picture, written once, for each place it is brought to."""
    to = inverse(texture.to_picture)
    to = to if place is None else compose(place, to)
    key = (id(texture), to.tobytes())
    if key not in w.ramps:
        picture = _picture(w, texture)
        w.ramps[key] = name = w.name("r", len(w.ramps) + 1)
        matrix = " ".join(short(float(v), 7) for v in (*to[:, 0], *to[:, 1], *to[:, 2]))
        w.definitions.append(
            f'<pattern id="{name}" patternUnits="userSpaceOnUse" width="1" height="1" patternTransform="matrix({matrix})">'
            f'<use xlink:href="#{picture}"/></pattern>'
        )
    return f"url(#{w.ramps[key]})"


def _sampled(ramp: Ramp, steps: int = 33) -> list[tuple[float, str, float]]:
    """A ramp that SVG has no words for, as many plain stops."""
    table = ramp.table(steps)
    straight = np.rint(table[:, :3] / np.maximum(table[:, 3:], 1e-6) * 255).astype(np.uint8)
    return [(k / (steps - 1), hex_of(straight[k]), float(table[k, 3])) for k in range(steps)]


def attributes(fill: Array, stroke: Array, coat: Coat) -> str:
    """Return fill, line and blend of a shape as attributes; `RAMP_HERE` stands for the name of a ramp or picture."""
    if not fill[3] and not stroke[3]:
        return ""
    painted = isinstance(coat.paint, (Ramp, Texture))
    colour = RAMP_HERE if painted and not coat.lines else hex_of(fill)
    text = f' fill="{colour}"' if fill[3] else ' fill="none"'
    if 0 < fill[3] < 255:
        text += f' fill-opacity="{short(fill[3] / 255, 4)}"'
    if coat.even_odd:
        text += ' fill-rule="evenodd"'
    if stroke[3]:
        text += f' stroke="{RAMP_HERE if painted and coat.lines else hex_of(stroke)}"'
        text += f' stroke-linejoin="{ {"mitre": "miter"}.get(coat.join, coat.join) }"' if coat.join != "mitre" else ""
        text += f' stroke-linecap="{coat.cap}"' if coat.cap != "butt" else ""
        text += f' stroke-opacity="{short(stroke[3] / 255, 4)}"' if stroke[3] < 255 else ""
    if coat.blend != "normal":
        text += f' style="mix-blend-mode:{coat.blend}"'
    return text


def hex_of(rgba: Array) -> str:
    """Return a colour (4,) in bytes as hexadecimal figures."""
    return "#" + "".join(f"{v:02X}" for v in rgba[:3])
