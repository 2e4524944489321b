"""A picture in which one colour stands out: all others are taken most of the way to a quiet one."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QColor, QImage

NEAR = 10  # of 255, by which a channel may differ and is the colour
DIMMED = 0.82  # of the way to the quiet colour


def standing_out(picture: QImage, value: str, quiet: QColor) -> QImage:
    """Return a copy of a picture in which a colour stays and all else is dimmed."""
    copy = picture.convertToFormat(QImage.Format.Format_RGBA8888_Premultiplied).copy()
    pixels = np.frombuffer(copy.bits(), np.uint8).reshape(copy.height(), copy.bytesPerLine())[:, : copy.width() * 4]
    pixels = pixels.reshape(copy.height(), copy.width(), 4)
    wanted, calm = QColor(value), np.array([quiet.red(), quiet.green(), quiet.blue(), 255])
    others = (np.abs(pixels[..., :3].astype(np.int16) - (wanted.red(), wanted.green(), wanted.blue())) > NEAR).any(-1)
    pixels[others] = np.rint(pixels[others] * (1 - DIMMED) + calm * DIMMED)
    return copy
