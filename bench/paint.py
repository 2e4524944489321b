"""Painting hexagons, each of its own colour, at 900 x 700 against the plain loop with one path for each copy."""

import os
from functools import partial

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PySide6.QtCore import QPointF
from PySide6.QtGui import QBrush, QColor, QGuiApplication, QImage, QPainter, QPolygonF, QTransform
from rounds import ratio

from under_lattice.core.affine import Array
from under_lattice.core.marks import Coat, Marks
from under_lattice.core.outline import polygon_verbs
from under_lattice.core.stage import Family
from under_lattice.render.paint import paint
from under_lattice.render.scene import Scene, SceneLayer, View
from under_lattice.work.evaluate import Picture

WIDTH, HEIGHT = 900, 700
ANGLE = np.radians(30 + 60 * np.arange(6))
HEXAGON = np.stack([np.cos(ANGLE), np.sin(ANGLE)], -1)


def hexagons(wanted: int) -> tuple[Array, Array]:
    """Maps (n, 2, 3) of a touching lattice that fills the picture, and a colour (n, 4) for each."""
    radius = np.sqrt(WIDTH * HEIGHT / wanted / (1.5 * np.sqrt(3)))
    across, down = np.sqrt(3) * radius, 1.5 * radius
    row, column = np.divmod(np.arange(wanted), int(np.ceil(WIDTH / across)) + 1)
    maps = np.zeros((wanted, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = radius
    maps[:, 0, 2] = (column + 0.5 * (row % 2)) * across - WIDTH / 2
    maps[:, 1, 2] = row * down - HEIGHT / 2
    colour = np.random.default_rng(1).integers(0, 256, (wanted, 4), dtype=np.uint8)
    colour[:, 3] = 255
    return maps, colour


def scene(wanted: int) -> Scene:
    maps, colour = hexagons(wanted)
    none = np.zeros(wanted, np.int32)
    marks = Marks((Family(polygon_verbs(6), HEXAGON[None], none),), none, none, maps, np.arange(wanted, dtype=np.int32))
    coat = Coat(colour, np.zeros((1, 4), np.uint8), np.zeros(1))
    return Scene(WIDTH, HEIGHT, "#FFFFFF", (SceneLayer("", Picture(marks, (coat,))),))


def plain_loop(wanted: int) -> QImage:
    maps, colour = hexagons(wanted)
    shape = QPolygonF([QPointF(x, y) for x, y in HEXAGON.tolist()])
    image = QImage(WIDTH, HEIGHT, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QColor(0, 0, 0, 0))
    for ((a, b, e), (c, d, f)), (red, green, blue, _) in zip(maps.tolist(), colour.tolist(), strict=True):
        painter.setTransform(QTransform(a, c, b, d, e + WIDTH / 2, f + HEIGHT / 2))
        painter.setBrush(QBrush(QColor(red, green, blue)))
        painter.drawPolygon(shape)
    painter.end()
    return image


if __name__ == "__main__":
    app = QGuiApplication.instance() or QGuiApplication([])
    view = View(WIDTH, HEIGHT, 1.0, WIDTH / 2, HEIGHT / 2)
    for count in (10_000, 100_000):
        made = scene(count)
        found = ratio(f"{count:,} hexagons / plain loop", partial(paint, made, view), partial(plain_loop, count))
        print(f"    the painter is {1 / found:.1f} times as fast")
