"""Sentences as they are shown: numbers as the desktop's language writes them, a capital at the beginning."""

from __future__ import annotations

import re

from PySide6.QtCore import QLocale

_MINUS = re.compile(r"(?<![\w.,\-#])-(?=\d)")
_THOUSANDS = re.compile(r"(?<=\d),(?=\d{3}(?!\d))")
_POINT = re.compile(r"(?<=\d)\.(?=\d)")


def decimal_sign() -> str:
    """Return the decimal sign of the desktop's language."""
    return QLocale().decimalPoint()


def grouped(count: int) -> str:
    """Return a whole number with thin spaces between thousands."""
    return f"{count:,}".replace(",", "\u202f")


def capital(sentence: str) -> str:
    """Return a sentence that begins with a capital; one that begins with the name of a file stays as it is."""
    first = sentence.split(" ", 1)[0]
    return sentence if "." in first.rstrip(".") or "/" in first else sentence[:1].upper() + sentence[1:]


def as_written_here(text: str) -> str:
    """Return a text with the decimal sign of the desktop's language, true minus signs, and thin spaces between thousands."""
    point, text = decimal_sign(), _THOUSANDS.sub("\u202f", _MINUS.sub("−", text))  # noqa: RUF001
    return text if point == "." else _POINT.sub(point, text)
