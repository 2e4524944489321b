"""Palettes as text that other programs read: custom properties of CSS, a list of hexadecimal figures, JSON."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from typing import Any

from under_lattice.colour.colour import CLEAR, checked
from under_lattice.core.errors import InputError

MOST = 12  # colours of a palette
TEXT_MOST = 200_000  # letters
FORMS = {".css": "Custom properties of CSS", ".txt": "Hexadecimal figures", ".json": "JSON"}


def palette_of_text(text: str, name: str = "The text") -> tuple[str, ...]:
    """Return the colours a text holds, in their order; which of the three forms it has is seen from the text.

    Raises
    ------
    InputError
        Says which colour cannot be read, or how many there are.
    """
    if len(text) > TEXT_MOST:
        raise InputError(f"{name} is too long for a palette; it may have {TEXT_MOST} letters")
    text = text.strip().lstrip("\ufeff")
    if text[:1] in "[{" and text:
        found = _of_json(text, name)
    elif "--" in text and ":" in text:
        found = _of_css(text)
    else:
        found = [one for line in text.splitlines() if not line.lstrip().startswith(("//", ";")) for one in _parts(line)]
    colours = [colour for one in found if (colour := _read(one, name)) != CLEAR]
    if not 1 <= len(colours) <= MOST:
        raise InputError(f"{name} has {len(colours)} colours; a palette has from 1 to {MOST}")
    return tuple(colours)


def _parts(line: str) -> list[str]:
    """The colours of a line: functions keep their commas and spaces."""
    return re.findall(r"[^\s,;()]+\([^)]*\)|[^\s,;]+", line)


def _read(text: Any, name: str) -> str:
    try:
        return checked(text if text.startswith("#") or not re.fullmatch(r"[0-9A-Fa-f]{6}", text) else f"#{text}")
    except (InputError, AttributeError) as error:
        said = error.message if isinstance(error, InputError) else f"“{str(text)[:20]}” is not a colour"
        raise InputError(f"{name}: {said}") from None


def _of_css(text: str) -> list[str]:
    """The values of custom properties that are colours; others, such as lengths, are passed over."""
    bare = re.sub(r"/\*.*?\*/", "", text, flags=re.DOTALL)
    out = []
    for value in re.findall(r"--[\w-]+\s*:\s*([^;}]+)", bare):
        try:
            out.append(checked(value.strip()))
        except InputError:
            continue
    return out


def _of_json(text: str, name: str) -> list[Any]:
    """The colours of a list, of an object by names, or of what an object calls its colours."""
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        at = f" in line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise InputError(f"{name} is no JSON{at}") from None
    if isinstance(found, dict):
        found = found.get("colours", found.get("colors", list(found.values())))
    if isinstance(found, dict):
        found = list(found.values())
    if not isinstance(found, list):
        raise InputError(f"{name} has no list of colours")
    return [one.get("colour", one.get("color", one)) if isinstance(one, dict) else one for one in found]


def text_of_palette(colours: Sequence[str], ending: str, name: str = "palette") -> str:
    """Return a palette as text of the form its file's ending stands for.

    Raises
    ------
    KeyError
        Of another ending than those of `FORMS`.
    """
    if ending == ".json":
        return json.dumps({"name": name, "colours": list(colours)}, indent=2) + "\n"
    if ending == ".css":
        word = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "palette"
        lines = "".join(f"  --{word}-{k}: {colour};\n" for k, colour in enumerate(colours, 1))
        return f":root {{\n{lines}}}\n"
    if ending not in FORMS:
        raise KeyError(ending)
    return "".join(f"{colour}\n" for colour in colours)
