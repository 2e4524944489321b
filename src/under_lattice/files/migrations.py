"""Steps from each earlier file version to the next, on plain data, before any class is built.

A new version adds a function ``_from_N`` to `STEPS` and a file of version N to the tests.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from under_lattice.core.errors import FileError

VERSION = 4


def _from_1(data: dict[str, Any]) -> dict[str, Any]:
    """Every layer has an end of its own; groups carried opacity and blend themselves, and their members kept to themselves."""
    kept = [one | {"design": _design_from_1(one["design"])} if _has_design(one) else one for one in data.get("kept") or ()]
    return data | {"version": 2, "design": _design_from_1(data.get("design"))} | ({"kept": kept} if "kept" in data else {})


def _has_design(one: Any) -> bool:
    return isinstance(one, dict) and "design" in one


def _design_from_1(design: Any) -> Any:
    if not isinstance(design, dict) or not isinstance(design.get("layers"), list):
        return design
    return design | {"layers": [_layer_from_1(one) for one in design["layers"]]} | _sheet_from_1(design.get("sheet"))


def _sheet_from_1(sheet: Any) -> dict[str, Any]:
    """Whether the construction grid is seen is no part of a work any more."""
    if not isinstance(sheet, dict) or not isinstance(sheet.get("grid"), dict):
        return {}
    return {"sheet": sheet | {"grid": {name: value for name, value in sheet["grid"].items() if name != "shown"}}}


def _layer_from_1(layer: Any) -> Any:
    if not isinstance(layer, dict) or layer.get("kind") != "group":
        return layer
    rest = {name: value for name, value in layer.items() if name not in ("opacity", "blend", "layers")}
    end = {"isolated": "yes"} | {name: layer[name] for name in ("opacity", "blend") if name in layer}
    members = layer.get("layers", [])
    return rest | {"end": end, "layers": [_layer_from_1(one) for one in members] if isinstance(members, list) else members}


def _from_2(data: dict[str, Any]) -> dict[str, Any]:
    """Kept versions have ids."""
    kept = data.get("kept")
    if not isinstance(kept, list):
        return data | {"version": 3}
    named = [{"id": f"kept-{k}"} | one if isinstance(one, dict) else one for k, one in enumerate(kept, 1)]
    return data | {"version": 3, "kept": named}


def _from_3(data: dict[str, Any]) -> dict[str, Any]:
    """A lattice that grows from the middle is centred; before, a copy stood in the motif's place whatever their number."""
    kept = data.get("kept")
    changed = {"version": 4, "design": _design_from_3(data.get("design"))}
    if isinstance(kept, list):
        changed["kept"] = [one | {"design": _design_from_3(one["design"])} if _has_design(one) else one for one in kept]
    return data | changed


def _design_from_3(part: Any) -> Any:
    """Layers and groups of a design, and the rules of each."""
    if not isinstance(part, dict):
        return part
    if part.get("kind") == "lattice" and part.get("extent") == "by number" and part.get("grow", "middle") == "middle":
        return part | {"grow": "middle copy"}
    lists = {name: part[name] for name in ("layers", "rules") if isinstance(part.get(name), list)}
    return part | {name: [_design_from_3(one) for one in ones] for name, ones in lists.items()}


STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _from_1, 2: _from_2, 3: _from_3}


def migrated(data: dict[str, Any], source: str) -> dict[str, Any]:
    """Return the data as of the present version.

    Raises
    ------
    FileError
        When the version is newer than this program, or not one at all.
    """
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileError(f"{source} has no version; a whole number from 1 to {VERSION} is expected")
    if version > VERSION:
        raise FileError(f"{source} is of version {version}, made by a newer Under Lattice; this one reads up to {VERSION}")
    while version < VERSION:
        data = STEPS[version](data)
        version += 1
    return data
