"""Numbers in sentences, as the desktop's language writes them."""

from __future__ import annotations

import re

from PySide6.QtCore import QLocale

_POINT = re.compile(r"(?<=\d)\.(?=\d)")


def as_written_here(text: str) -> str:
    """Return a text with the decimal sign of the desktop's language, and true minus signs before numbers."""
    point = QLocale().decimalPoint()
    return text if point == "." else _POINT.sub(point, text)
