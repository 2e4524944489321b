"""Works as versioned JSON: read with clear refusals, written atomically, the same work always the same bytes."""

from __future__ import annotations

import base64
import json
import math
import re
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from under_lattice.core.errors import FileError, InputError
from under_lattice.declare.frozen import edited
from under_lattice.files.bounded import LARGEST
from under_lattice.files.migrations import VERSION, migrated
from under_lattice.files.saving import Seen, write_atomically
from under_lattice.rules.unknown import UnknownRule
from under_lattice.work.model import UNTITLED, Design, ExportChoice, Kept, StripOrder, Work
from under_lattice.work.named import retied
from under_lattice.work.pictures import StoredPicture, bring_in

FORMAT = "under-lattice"
DEPTH_MOST = 200  # lists and groups of data within each other; what writes them ends at 255
STEM_MOST = 200  # bytes; a file system takes 255 for a name, with what is added to it
HALVES = re.compile("[\ud800-\udfff]")  # of pairs of characters, which a rule of a newer version may hold


def to_data(work: Work) -> dict[str, Any]:
    """Return a work as plain data."""
    designs = (work.design, *(kept.design for kept in work.kept))
    stored = {one.id: one for design in designs for one in design.pictures if one.id in design.picture_ids()}
    return (
        {
            "format": FORMAT,
            "version": VERSION,
            "design": work.design.model_dump(mode="json"),
            "kept": [kept.model_dump(mode="json") for kept in work.kept],
            "strip": work.strip.model_dump(mode="json") if work.strip is not None else None,
        }
        | ({"export": work.export.model_dump(mode="json")} if work.export is not None else {})
        | ({"pictures": [stored[key].model_dump(mode="json") for key in sorted(stored)]} if stored else {})
    )


def to_text(work: Work, indent: int | None = 1) -> str:
    """Return a work as JSON text with sorted keys and shortest numbers."""
    separators = (",", ": ") if indent else (",", ":")
    text = json.dumps(to_data(work), indent=indent, sort_keys=True, ensure_ascii=False, separators=separators)
    return HALVES.sub(lambda half: f"\\u{ord(half[0]):04x}", text) + "\n"


def from_text(text: str, source: str = "this file") -> Work:
    """Read a work.

    Raises
    ------
    FileError
        Says what is wrong and where; nothing is taken over.
    """
    if len(text) > LARGEST:
        raise FileError(f"{source} is larger than {LARGEST // 1_000_000} MB")

    try:
        data = json.loads(text, parse_constant=_finite, parse_float=_finite, parse_int=_whole)
        _not_too_deep(data)
    except (ValueError, RecursionError) as error:
        raise FileError(f"{source} is not a work of Under Lattice: {_plain(error)}") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise FileError(f"{source} is not a work of Under Lattice: it lacks “format”: “{FORMAT}”")
    data = migrated(data, source)
    for part in ("kept", "pictures"):
        if not isinstance(data.get(part, []), list):
            raise FileError(f"{source} cannot be opened: {part} is not a list")
    try:
        pictures = tuple(StoredPicture.model_validate(one) for one in data.get("pictures", []))
        for picture in pictures:
            bring_in(base64.b64decode(picture.data), picture.name)  # refused here, not while it is painted
        design = _pictured(Design.model_validate(data.get("design")), pictures)
        kept = tuple(Kept.model_validate(one) for one in data.get("kept", []))
        kept = tuple(
            one.model_copy(update={"design": _checked(_pictured(one.design, pictures), f"kept “{one.name}”, ")}) for one in kept
        )
        _one_each([one.id for one in kept], "two kept versions", "id")
        strip = StripOrder.model_validate(data["strip"]) if data.get("strip") is not None else None
        export = ExportChoice.model_validate(data["export"]) if data.get("export") is not None else None
        return Work(design=_checked(design), kept=kept, strip=strip, export=export)
    except (ValidationError, RecursionError) as error:
        raise FileError(f"{source} cannot be opened: {_where(error)}") from None
    except InputError as error:
        raise FileError(f"{source} cannot be opened: {error.message}") from None


def _finite(figures: str) -> float:
    number = float(figures)
    if not math.isfinite(number):
        raise ValueError(f"{figures[:40]} is no number that can be kept")
    return number


def _whole(figures: str) -> int:
    _finite(figures)
    return int(figures)


def _not_too_deep(data: Any) -> None:
    """Refuse data nested deeper than can be written again."""
    level, deep = [data], 0
    while level:
        deep += 1
        if deep > DEPTH_MOST:
            raise ValueError(f"it is nested more than {DEPTH_MOST} deep")
        inside = [one.values() if isinstance(one, dict) else one for one in level if isinstance(one, (dict, list))]
        level = [part for one in inside for part in one if isinstance(part, (dict, list))]


def _pictured(design: Design, pictures: tuple[StoredPicture, ...]) -> Design:
    """Give a design the pictures it uses."""
    used = design.picture_ids()
    return edited(design, pictures=tuple(one for one in pictures if one.id in used))


def _plain(error: Exception) -> str:
    if isinstance(error, json.JSONDecodeError):
        return f"line {error.lineno}, column {error.colno} is not JSON"
    return "it is nested too deeply" if isinstance(error, RecursionError) else str(error)


def _where(error: Exception) -> str:
    if not isinstance(error, ValidationError):
        return "it is nested too deeply"
    first = error.errors()[0]
    place = " → ".join(str(part + 1) if isinstance(part, int) else str(part) for part in first["loc"])
    return f"{place or 'design'}: {str(first['msg']).removeprefix('Value error, ')}"


def _checked(design: Design, where: str = "") -> Design:
    """Return the design with what the classes cannot check: ids and handles are one each, and what follows a dial is at its value.

    Raises
    ------
    FileError, InputError
    """
    seen: set[str] = set()
    for layer in design.all_layers():
        for name in [layer.id, *(rule.id for rule in layer.every_rule if rule.id and not isinstance(rule, UnknownRule))]:
            if name in seen:
                raise FileError(f"{where}two parts of the work have the same id “{name}” (in layer “{layer.name}”)")
            seen.add(name)
        _one_each([rule.handle for rule in layer.every_rule], f"{where}two rules of layer “{layer.name}”")
    _one_each([layer.handle for layer in design.all_layers()], f"{where}two layers")
    _one_each([dial.handle for dial in design.dials], f"{where}two named dials")
    return retied(design)


def _one_each(handles: list[str], what: str, noun: str = "handle") -> None:
    double = next((one for one in handles if one and handles.count(one) > 1), "")
    if double:
        raise FileError(f"{what} have the same {noun} “{double}”; each needs its own")


def work_in(data: bytes, source: str) -> Work:
    """Read a work from the bytes of a ``.lattice`` file.

    Raises
    ------
    FileError
    """
    return from_text(text_in(data, source, "not a work of Under Lattice"), source)


def text_in(data: bytes, source: str, else_it_is: str) -> str:
    """Return the text of a file, in UTF-8; `else_it_is` says what a file in no UTF-8 is.

    Raises
    ------
    FileError
    """
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        raise FileError(f"{source} is {else_it_is}: it is not UTF-8 text") from None


def stem_of(name: str) -> str:
    """Return the name of a work as the name of a file, without its ending: letters of any script, figures and hyphens."""
    stem = re.sub(r"\W+", "-", name.lower()).strip("-")[:80]
    return stem.encode("utf-8", "ignore")[:STEM_MOST].decode("utf-8", "ignore") or "work"


def name_from(path: Path) -> str:
    """Return what a work that has no name yet is called after its file."""
    words = re.sub(r"[\s_-]+", " ", path.stem).strip()[:80]
    return words[:1].upper() + words[1:] or UNTITLED


def free_path(folder: Path, name: str, ending: str) -> Path:
    """Return a file that is not there yet: of that name, or with a number behind it."""
    path, k = folder / f"{name}{ending}", 1
    while path.exists():
        k += 1
        path = folder / f"{name}-{k}{ending}"
    return path


def write(work: Work, path: Path, seen: Seen | None = None) -> Seen:
    """Write a ``.lattice`` file atomically, and return what it holds; with `seen` only where it holds that.

    Raises
    ------
    FileError, OthersWrote
    """
    data = to_text(work).encode("utf-8")
    write_atomically(path, data, seen)
    return Seen.holding(data)
