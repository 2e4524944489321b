"""The sheet of a work: its size, another unit of length, and sheets of common sizes."""

from __future__ import annotations

from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.core.units import convert
from under_lattice.declare.dials import Length
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.motion import Motion
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet
from under_lattice.work.pictures import pixels_of
from under_lattice.work.turning import turned_together


def set_unit(design: Design, unit: str) -> Design:
    """Return the design in another unit of length; its real size stays."""
    sheet = design.sheet
    if unit == sheet.unit:
        return design
    factor = convert(1.0, sheet.unit, unit, sheet.resolution)
    changed = edited(
        sheet,
        unit=unit,
        width=sheet.width * factor,
        height=sheet.height * factor,
        grid=edited(sheet.grid, spacing=sheet.grid.spacing * factor, down=sheet.grid.down * factor),
    )
    dials = tuple(edited(d, value=d.value * factor) if d.measure == "length" else d for d in design.dials)
    layers = tuple(layer.with_each_rule(lambda rule: scaled(rule, factor)) for layer in design.layers)
    motions = tuple(_motion_in_unit(design, motion, factor) for motion in design.motions)
    return edited(design, sheet=changed, layers=layers, dials=dials, motions=motions)


def _motion_in_unit(design: Design, motion: Motion, factor: float) -> Motion:
    """A motion with the values hung on it in another unit of length."""
    place = motion.places[0] if motion.places else None
    if place is None:
        return motion
    layer = design.tree.by_id.get(place.layer)
    rule = next((one for one in layer.every_rule if one.id == place.rule), None) if layer is not None else None
    dial = rule.dials().get(place.dial) if rule is not None else None
    is_length = isinstance(dial, Length) or any(one.id == place.dial and one.measure == "length" for one in design.dials)

    def other(value: Any) -> Any:
        if is_length:
            return value * factor
        if isinstance(value, dict) and {"dx", "dy"} <= value.keys():
            return value | {"dx": value["dx"] * factor, "dy": value["dy"] * factor}
        return dial.in_unit(value, factor) if dial is not None else value

    return edited(motion, beads=tuple(edited(bead, value=other(bead.value)) for bead in motion.beads))


def sheet_like_picture(design: Design, layer: str) -> Design:
    """Return the design with the sheet in the proportions of the first picture of a layer, and as many px where it counts in those.

    The longer side stays as long as it is; a picture that is a motif fills the sheet from then on.

    Raises
    ------
    InputError
        When the layer has no picture.
    FileError
    """
    stored = {one.id: one for one in design.pictures}
    chain = next(iter(design.layer(layer).chains()), None)
    found = (
        next((rule for rule in chain.rules if any(one in stored for one in rule.pictures())), None) if chain is not None else None
    )
    if chain is None or found is None:
        raise InputError("this layer has no picture; choose one that has")
    high, wide = pixels_of(stored[next(one for one in found.pictures() if one in stored)]).shape[:2]
    sheet = design.sheet
    share = 1.0 if sheet.unit == "px" else max(sheet.width, sheet.height) / max(wide, high)
    design = edited(design, sheet=edited(sheet, width=wide * share, height=high * share))
    fits = {"fits": "fills the sheet"} if "fits" in found.dials() else {}
    return turned_together(design, chain.id, found.id, fits) if fits else design


def scaled(rule: Rule, factor: float) -> Rule:
    """Return a rule with all its lengths `factor` times as large; angles, ratios and counts stay."""
    changes: dict[str, Any] = {}
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        if isinstance(value, Anchor):
            changes[name] = edited(value, dx=value.dx * factor, dy=value.dy * factor)
        elif isinstance(value, Varied):
            changes[name] = _scaled_varied(value, factor, isinstance(dial, Length))
        elif isinstance(dial, Length):
            changes[name] = value * factor
        elif (other := dial.in_unit(value, factor)) != value:
            changes[name] = other
    return edited(rule, **changes) if changes else rule


def _scaled_varied(value: Varied, factor: float, is_length: bool) -> Varied:
    """A number that varies, in another unit; what a formula reads and gives stays in the unit it was written in."""
    size = factor if is_length else 1.0
    changes: dict[str, Any] = {"start": value.start * size, "end": value.end * size, "taken": tuple(v * size for v in value.taken)}
    if value.midway is not None:
        changes["midway"] = (value.midway[0] * size, value.midway[1] * size)
    if value.formula:
        changes |= {"reads": _near_one(value.reads * factor), "gives": _near_one(value.gives * size)}
    return edited(value, **changes)


def _near_one(factor: float) -> float:
    """There and back through several units is where one began."""
    return 1.0 if abs(factor - 1.0) < 1e-9 else factor


def set_sheet(design: Design, **changes: Any) -> Design:
    """Return the design on a changed sheet; a change of unit keeps the real size."""
    unit = changes.pop("unit", design.sheet.unit)
    design = set_unit(design, unit)
    return edited(design, sheet=edited(design.sheet, **changes)) if changes else design


def presets() -> dict[str, Sheet]:
    """Return sheets of common sizes by name."""
    return {
        "Floor bay, 324 × 322 mm": Sheet(),  # noqa: RUF001
        "A4 upright": Sheet(width=210, height=297),
        "A4 lying": Sheet(width=297, height=210),
        "A3 upright": Sheet(width=297, height=420),
        "Square, 200 mm": Sheet(width=200, height=200),
        "Letter upright": Sheet(width=8.5, height=11, unit="in"),
        "Cloth repeat, 64 cm": Sheet(width=64, height=64, unit="cm"),
        "Screen, 1920 × 1080 px": Sheet(width=1920, height=1080, unit="px"),  # noqa: RUF001
        "Square, 1080 px": Sheet(width=1080, height=1080, unit="px"),
    }
