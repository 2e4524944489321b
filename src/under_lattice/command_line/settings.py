"""``--set LAYER.RULE.NUMBER=VALUE``: one dial of a work, in the words of its declaration."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.core.units import typed
from under_lattice.declare.dials import Colour, LayerChoice, NumberDial, OutlineText, Palette, Picture, Point, RuleChoice, Touches
from under_lattice.library.sample_pictures import PAINTED, sample_picture
from under_lattice.rules.base import Rule
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.touches import read_touches
from under_lattice.vary.formula import at_step, read_formula
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import edited, with_picture
from under_lattice.work.model import Chain, Design
from under_lattice.work.named import named_in, set_named, turn_dials
from under_lattice.work.pictures import bring_in
from under_lattice.work.reading import may_read
from under_lattice.work.suggest import sources_of


def apply_setting(design: Design, order: str) -> Design:
    """Return the design with one dial set.

    Raises
    ------
    InputError
        Says which part of the order is not there and what is.
    """
    target, equals, text = order.partition("=")
    parts = target.strip().split(".")
    if equals and len(parts) == 2 and parts[0] == "dials":
        return _named_set(design, parts[1], text)
    if not equals or len(parts) not in (3, 4):
        raise InputError(f"“{order}” is not LAYER.RULE.NUMBER=VALUE, for instance floor.lattice.gap=1.8", "--set")
    layer = _pick({c.handle: c for c in design.chains()}, parts[0], "layer")
    rule = _pick({r.handle: r for r in (*layer.rules, layer.end)}, parts[1], f"rule of {layer.handle}")
    _pick(rule.dials(), parts[2], f"number of {rule.handle}")
    dial = rule.dials()[parts[2]]
    if isinstance(dial, LayerChoice):
        others = {one.handle: one.id for one in may_read(design, layer.id, dial.groups)}
        value = _pick({"none": "", **others}, text.strip(), f"other layer than {layer.handle}")
    elif isinstance(dial, Picture):
        design, value = _picture(design, text.strip())
    else:
        value = _value(text.strip(), rule, parts[2], parts[3:], design, layer)
    target_id = "layer" if rule is layer.end else rule.id
    try:
        return turn_dials(design, layer.id, target_id, {parts[2]: value})
    except InputError as error:
        raise InputError(error.message, f"--set {target}") from None


def _named_set(design: Design, handle: str, text: str) -> Design:
    one = _pick({dial.handle: dial for dial in design.dials}, handle, "named dial")
    unit = {"length": design.sheet.unit, "angle": "°", "ratio": "%"}.get(one.measure, "")
    return set_named(design, one.id, typed(text.strip(), unit, design.sheet.resolution, one.value))


def _picture(design: Design, text: str) -> tuple[Design, str]:
    """A picture of the work or one of the samples by its name, or one from a file, which the design then holds."""
    stored = {one.name: one.id for one in design.pictures} | {"none": ""}
    if text in stored:
        return design, stored[text]
    try:
        picture = sample_picture(text) if text in PAINTED else bring_in(Path(text).read_bytes(), Path(text).name)
    except OSError as error:
        known = ", ".join((*stored, *PAINTED))
        raise InputError(f"“{text}” cannot be read ({error.strerror}); a picture file, or one of: {known}", "--set") from None
    return with_picture(design, picture), picture.id


def _svg(path: Path) -> str:
    """The outlines of an SVG file."""
    from under_lattice.files.svg_in import read_svg  # loads the reader of path data

    try:
        return read_svg(path.read_bytes(), path.name).text
    except OSError as error:
        raise InputError(f"“{path}” cannot be read ({error.strerror})", "--set") from None


def _pick(things: dict[str, Any], name: str, what: str) -> Any:
    if name not in things:
        raise InputError(f"there is no {what} “{name}”; there is: {', '.join(things) or 'none'}", "--set")
    return things[name]


def _value(text: str, rule: Rule, name: str, end: list[str], design: Design, layer: Chain) -> Any:
    sheet = design.sheet
    dial, now = rule.dials()[name], getattr(rule, name)
    if isinstance(dial, NumberDial) and text.startswith("="):
        return _formula(text, dial, rule, name, layer, design)
    if isinstance(dial, NumberDial):
        unit = dial.unit or (sheet.unit if dial.kind == "length" else "")
        number = typed(text, unit, sheet.resolution, float(now) if isinstance(now, (int, float)) else None)
        if end and isinstance(now, Varied) and end[0] in ("start", "end"):
            return edited(now, **{end[0]: number})
        if end:
            raise InputError(f"{dial.label} does not vary, so it has no “{end[0]}”", "--set")
        return int(number) if dial.kind in ("count", "seed") and number == int(number) else number
    if isinstance(dial, OutlineText) and text.lower().endswith(".svg"):
        return _svg(Path(text))
    if isinstance(dial, Palette):
        return tuple(part.strip() for part in text.split(","))
    if isinstance(dial, Point):
        return edited(Anchor(), spot=text)
    if isinstance(dial, RuleChoice):
        return _rule_id(text, dial, layer)
    if isinstance(dial, Touches):
        ids = {r.handle: r.id for r in layer.rules if r.family == "repeat"}
        return () if text == "none" else read_touches(text, ids)
    return "" if isinstance(dial, Colour) and text == "none" else text


def _formula(text: str, dial: NumberDial, rule: Rule, name: str, layer: Chain, design: Design) -> Varied:
    """A formula on the readings of the nearest repeat and on named dials."""
    sources = sources_of(layer, rule, name) if dial.vary else []
    if not sources:
        raise InputError(f"{dial.label} cannot follow a formula: there is no repeat it could read", "--set")
    named = named_in(design, text)
    first = at_step(read_formula(text, frozenset(dict(named))), 0, 1, dict(named))
    first = float(dial.check(min(max(first, dial.least), dial.most)))
    return Varied(rule=sources[-1].id, channel="step", start=first, end=first, named=named, formula=text)


def _rule_id(text: str, dial: RuleChoice, layer: Chain) -> str:
    others = [key for key, _ in dial.others]
    if text in others or (text == "nearest" and dial.nearest):
        return "" if text == "nearest" else text
    found: dict[str, Rule] = {r.handle: r for r in layer.rules if r.family == "repeat"}
    if text in found:
        return found[text].id
    allowed = others + (["nearest"] if dial.nearest else []) + list(found)
    raise InputError(f"“{text}” is not one of: {', '.join(allowed)}", dial.label)
