"""``--set LAYER.RULE.NUMBER=VALUE``: one dial of a work, in the words of its declaration."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from under_lattice.core.errors import FileError, InputError
from under_lattice.core.units import typed
from under_lattice.declare.dials import LayerChoice, NumberDial, Picture, Point, RuleChoice
from under_lattice.declare.drawn_dials import OutlineText, Touches
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.derived import derived_values
from under_lattice.files.bounded import read_bytes
from under_lattice.library.sample_pictures import SAMPLES, sample_picture
from under_lattice.rules.base import Rule
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.touches import read_touches
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address, picked, read_address
from under_lattice.work.edits import with_picture
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.named import named_in, set_named
from under_lattice.work.pictures import bring_in
from under_lattice.work.reading import may_read
from under_lattice.work.suggest import sources_of
from under_lattice.work.turning import turned


def apply_setting(design: Design, order: str) -> Design:
    """Return the design with one dial set.

    Raises
    ------
    InputError
        Says which part of the order is not there and what is.
    """
    target, equals, text = order.partition("=")
    target = target.strip()
    if not equals:
        raise InputError(f"“{order}” is not LAYER.RULE.NUMBER=VALUE, for instance floor.lattice.gap=1.8", "--set")
    try:
        if target.startswith("dials.") and target.count(".") == 1:
            return _named_set(design, target.removeprefix("dials."), text)
        return _turned(design, read_address(design, target), text.strip())
    except InputError as error:
        raise InputError(error.message, f"--set {target}") from None


def _turned(design: Design, address: Address, text: str) -> Design:
    layer, rule = address.found(design)
    dial = rule.dials()[address.dial]
    if isinstance(dial, LayerChoice):
        others = [(one.handle, one.id) for one in may_read(design, layer.id, dial.groups)]
        value: Any = picked([("none", ""), *others], text, f"other layer than {layer.handle}")
    elif isinstance(dial, Picture):
        design, value = _picture(design, text)
    else:
        value = _value(text, address, design)
    if isinstance(value, Varied):  # a formula stands for the whole number
        address = replace(address, end="")
    return turned(design, address, value, derived_values)


def _named_set(design: Design, handle: str, text: str) -> Design:
    one = picked(((dial.handle, dial) for dial in design.dials), handle, "named dial")
    unit = {"length": design.sheet.unit, "angle": "°", "ratio": "%"}.get(one.measure, "")
    return set_named(design, one.id, typed(text.strip(), unit, design.sheet.resolution, one.value))


def _picture(design: Design, text: str) -> tuple[Design, str]:
    """A picture of the work or one of the samples by its name, or one from a file, which the design then holds."""
    stored = {one.name: one.id for one in design.pictures} | {"none": ""}
    if text in stored:
        return design, stored[text]
    try:
        picture = sample_picture(text) if text in SAMPLES else bring_in(read_bytes(Path(text)), Path(text).name)
    except FileError as error:
        known = ", ".join((*stored, *SAMPLES))
        raise InputError(
            f"“{text}” is no picture that can be read ({error}); a picture file, or one of: {known}", "--set"
        ) from None
    return with_picture(design, picture), picture.id


def _svg(path: Path) -> str:
    """The outlines of an SVG file."""
    from under_lattice.files.svg.shapes import read_svg  # loads the reader of path data

    try:
        return read_svg(read_bytes(path), path.name).text
    except FileError as error:
        raise InputError(str(error), "--set") from None


def _value(text: str, address: Address, design: Design) -> Any:
    sheet, (layer, rule) = design.sheet, address.found(design)
    dial, now = address.declared(design), address.value(design) if not address.end else None
    if isinstance(dial, NumberDial) and text.startswith("="):
        return _formula(text, dial, rule, address.dial, layer, design)
    if isinstance(dial, NumberDial):
        unit = dial.unit or (sheet.unit if dial.kind == "length" else "")
        number = typed(text, unit, sheet.resolution, float(now) if isinstance(now, (int, float)) else None)
        return int(number) if dial.kind in ("count", "seed") and number == int(number) else number
    if isinstance(dial, OutlineText) and text.lower().endswith(".svg"):
        return _svg(Path(text))
    if isinstance(dial, Point):
        return edited(Anchor(), spot=text)
    if isinstance(dial, RuleChoice):
        return _rule_id(text, dial, layer)
    if isinstance(dial, Touches):
        ids = {r.handle: r.id for r in layer.own_rules if r.family == "repeat"}
        return () if text == "none" else read_touches(text, ids)
    return dial.read(text)


def _formula(text: str, dial: NumberDial, rule: Rule, name: str, layer: AnyLayer, design: Design) -> Varied:
    """A formula on the readings of the nearest repeat and on named dials."""
    sources = sources_of(layer, rule, name) if dial.vary else []
    if not sources:
        raise InputError(f"{dial.label} cannot follow a formula: there is no repeat it could read", "--set")
    named = named_in(design, text)
    number = Varied(rule=sources[-1].id, channel="step", start=0.0, end=0.0, named=named, formula=text)
    first = float(dial.check(min(max(number.ends()[0], dial.least), dial.most)))
    return edited(number, start=first, end=first)


def _rule_id(text: str, dial: RuleChoice, layer: AnyLayer) -> str:
    others = [key for key, _ in dial.others]
    if text in others or (text == "nearest" and dial.nearest):
        return "" if text == "nearest" else text
    found: dict[str, Rule] = {r.handle: r for r in layer.own_rules if r.family == "repeat"}
    if text in found:
        return found[text].id
    allowed = others + (["nearest"] if dial.nearest else []) + list(found)
    raise InputError(f"“{text}” is not one of: {', '.join(allowed)}", dial.label)
