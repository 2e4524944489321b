"""Streams of a PDF: operators in their order, and the resources they name."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import pikepdf
from pikepdf import Array as PdfArray
from pikepdf import Dictionary, Name

from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF
from under_lattice.output.svg_paints import hex_of

OPERATORS = {MOVE: "m", LINE: "l", CURVE: "c", CLOSE: "h"}
BLENDS = {
    "normal": "Normal", "multiply": "Multiply", "screen": "Screen", "overlay": "Overlay", "darken": "Darken", "lighten": "Lighten",
    "color-dodge": "ColorDodge", "color-burn": "ColorBurn", "hard-light": "HardLight", "soft-light": "SoftLight",
    "difference": "Difference", "exclusion": "Exclusion", "hue": "Hue", "saturation": "Saturation", "color": "Color",
    "luminosity": "Luminosity",
}  # fmt: skip


@dataclass
class Book:
    """What all streams of a file share: the file, how exact numbers are, what was written once.

    Attributes
    ----------
    half : (2,)
        Of all that is drawn on a page, in the unit of the work.
    hairline : float
        How wide a line without a width is, in that unit.
    spots : mapping of str to Name, or None
        Colours that are inks of their own, by hexadecimal figures; None where all are mixed.
    """

    pdf: pikepdf.Pdf
    digits: int
    progress: Progress
    half: Array
    hairline: float
    spots: dict[str, Any] | None = None
    kept: dict[Any, Any] = field(default_factory=dict)
    holding: list[Any] = field(default_factory=list)  # so that what keys name by identity stays

    def once(self, key: Any, made: Callable[[], Any], holds: Any = None) -> Any:
        """Return what was made under a key, made the first time it is asked for."""
        if key not in self.kept:
            self.kept[key] = self.pdf.make_indirect(made())
            self.holding.append(holds)
        return self.kept[key]

    @property
    def box(self) -> PdfArray:
        """A box round all that is drawn."""
        x, y = (float(v) for v in self.half)
        return PdfArray([-x, -y, x, y])


class Stream:
    """Operators of a page, form or mask, with the resources they use."""

    def __init__(self, book: Book) -> None:
        self.book = book
        self.lines: list[str] = []
        self._resources: dict[str, dict[str, Any]] = {}
        self._names: dict[tuple[str, Any], str] = {}

    def number(self, value: float) -> str:
        """Return a number as it is written."""
        return short(float(value), self.book.digits)

    def use(self, kind: str, thing: Any, key: Any) -> str:
        """Return the name of a resource of a kind, named once for each key."""
        at = kind, key
        if at not in self._names:
            own = self._resources.setdefault(kind, {})
            self._names[at] = f"/{kind[0]}{len(own) + 1}"
            own[self._names[at]] = thing
        return self._names[at]

    def state(self, **entries: Any) -> None:
        """Set parameters of the graphics state: alphas, a blend, a mask."""
        shown = Dictionary({f"/{name}": value for name, value in entries.items()})
        told = {name: id(value) if isinstance(value, pikepdf.Dictionary) else str(value) for name, value in entries.items()}
        key = tuple(sorted(told.items()))
        self.book.holding.append(entries)
        self.lines.append(f"{self.use('ExtGState', shown, key)} gs")

    def path(self, verbs: bytes, points: Array) -> str:
        """Return an outline (K, 2) as path operators."""
        out, at = [], 0
        for verb in verbs:
            count = POINTS_OF[verb]
            places = " ".join(self.number(v) for v in points[at : at + count].ravel())
            out.append(f"{places} {OPERATORS[verb]}" if count else OPERATORS[verb])
            at += count
        return " ".join(out)

    def map(self, xform: Array) -> str:
        """Return a map (2, 3) as the operator that applies it."""
        return " ".join(short(float(v), 9) for v in (*xform[:, 0], *xform[:, 1], *xform[:, 2])) + " cm"

    def colour(self, rgba: Array, of_line: bool) -> str:
        """Return the operator that sets a colour (4,) of bytes."""
        spot = self.book.spots.get(hex_of(rgba)) if self.book.spots is not None else None
        if spot is not None:
            name = self.use("ColorSpace", spot, hex_of(rgba))
            return f"{name} CS 1 SCN" if of_line else f"{name} cs 1 scn"
        return " ".join(short(v / 255, 4) for v in rgba[:3].tolist()) + (" RG" if of_line else " rg")

    def form(self, group: bool = False, isolated: bool = True, space: str = "/DeviceRGB") -> Any:
        """Return what was written as a form, painted together where it is a group."""
        entries: dict[str, Any] = {
            "/Type": Name.XObject, "/Subtype": Name.Form, "/BBox": self.book.box, "/Resources": self.resources(),
        }  # fmt: skip
        if group:
            entries["/Group"] = Dictionary(
                {"/Type": Name.Group, "/S": Name.Transparency, "/I": isolated, "/K": False, "/CS": Name(space)}
            )
        return self.book.pdf.make_stream(self.data(), Dictionary(entries))

    def draw(self, form: Any) -> None:
        """Draw a form or picture."""
        self.book.holding.append(form)
        self.lines.append(f"{self.use('XObject', form, id(form))} Do")

    def resources(self) -> Dictionary:
        """Return the resources by their names."""
        return Dictionary({f"/{kind}": Dictionary(own) for kind, own in self._resources.items()})

    def data(self) -> bytes:
        """Return the operators."""
        return ("\n".join(self.lines) + "\n").encode("ascii")


def everywhere(book: Book) -> str:
    """Return the path operator of a rectangle round all that is drawn."""
    x, y = (float(v) for v in book.half)
    return " ".join(short(v, 6) for v in (-x, -y, 2 * x, 2 * y)) + " re"
