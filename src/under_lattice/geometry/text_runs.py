"""A line of text in runs of one direction, in the order they are seen: the Unicode bidirectional algorithm (UAX 9)."""

from __future__ import annotations

import unicodedata
from typing import NamedTuple

SELECTORS = range(0xFE00, 0xFE10)  # they choose a form of the letter before them and show nothing
TAB = "    "


class Run(NamedTuple):
    """Letters in the order they are read, and whether they run from right to left."""

    text: str
    backwards: bool


def shows_nothing(letter: str) -> bool:
    """Tell whether a letter is a space, a joiner, a mark of direction or another that no font needs a glyph for."""
    return letter.isspace() or unicodedata.category(letter) in ("Cf", "Cc") or ord(letter) in SELECTORS


def runs_of(text: str) -> list[Run]:
    """Return the runs of a line, from left to right as they are seen; tabs and other blanks as spaces.

    A run holds letters of one level; where Arabic follows another script written from the right it begins anew, since its letters
    join.
    """
    plain = "".join(TAB if letter == "\t" else " " if letter.isspace() else letter for letter in text)
    if all(unicodedata.bidirectional(letter) not in ("R", "AL", "AN", "RLE", "RLO", "RLI") for letter in plain):
        return [Run(plain, backwards=False)]
    from bidi import algorithm  # type: ignore[import-untyped]  # works without such letters start faster without it

    found = algorithm.get_empty_storage()
    found["base_level"] = algorithm.get_base_level(plain)
    found["base_dir"] = ("L", "R")[found["base_level"]]
    algorithm.get_embedding_levels(plain, found)
    for step in ("explicit_embed_and_overrides", "resolve_weak_types", "resolve_neutral_types", "resolve_implicit_levels"):
        getattr(algorithm, step)(found, False)
    runs: list[tuple[int, bool | None, str]] = []
    for one in found["chars"]:
        joins = {"AL": True, "R": False, "L": False}.get(one["orig"])
        level, before, letters = runs[-1] if runs else (-1, None, "")
        if level == one["level"] and (joins is None or before is None or joins == before):
            runs[-1] = (level, before if joins is None else joins, letters + one["ch"])
        else:
            runs.append((one["level"], joins, one["ch"]))
    return _as_seen([(level, Run(letters, level % 2 == 1)) for level, _, letters in runs])


def _as_seen(runs: list[tuple[int, Run]]) -> list[Run]:
    """Runs from left to right: from the highest level on, what lies at it or above is turned round (rule L2)."""
    for level in range(max(level for level, _ in runs), 0, -1):
        k = 0
        while k < len(runs):
            end = k
            while end < len(runs) and runs[end][0] >= level:
                end += 1
            runs[k:end] = runs[k:end][::-1]
            k = max(end, k + 1)
    return [run for _, run in runs]
