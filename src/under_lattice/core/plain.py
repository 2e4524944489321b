"""Text of other people as plain text: one line for names, written out for a terminal."""

from __future__ import annotations

import re
import unicodedata
from typing import Annotated, Any

from pydantic import BeforeValidator

UNKNOWN = "\N{REPLACEMENT CHARACTER}"
BREAKS = re.compile("[\t\n\r\v\f\x85\u2028\u2029]+")
TURNS = {"LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI"}  # bidirectional classes, Unicode annex 9


def one_line(text: str) -> str:
    """Return a text without what cannot be seen and acts on the line it stands in.

    Breaks of a line become blanks. Control characters go, and with them the marks that turn the order of reading; half a
    pair of characters becomes the mark of an unknown one.
    """
    if text.isascii() and text.isprintable():
        return text
    whole = re.sub("[\ud800-\udfff]", UNKNOWN, BREAKS.sub(" ", text))
    return "".join(part for part in whole if not _acts(part))


def for_terminal(text: str) -> str:
    """Return a text with its control characters written out, lines kept: a terminal shows them and obeys none."""
    if text.isascii() and text.isprintable():
        return text
    return "".join(part.encode("unicode_escape").decode() if part != "\n" and _acts(part) else part for part in text)


def _acts(part: str) -> bool:
    return unicodedata.category(part) in ("Cc", "Cs", "Zl", "Zp") or unicodedata.bidirectional(part) in TURNS


def _line_of(value: Any) -> Any:
    return one_line(value) if isinstance(value, str) else value


Name = Annotated[str, BeforeValidator(_line_of)]  # a field of a part of a work
