"""Six scenes at 900 x 700 that stress a painter in different ways, for the painter and for the plain loop of a general one."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QLinearGradient, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from under_lattice.colour.ramp import Ramp, Stop
from under_lattice.geometry.affine import Array, linear
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, polygon_verbs
from under_lattice.pattern.marks import Coat, Marks, Picture
from under_lattice.pattern.stage import Family
from under_lattice.scene.tree import Scene, SceneLayer, View

WIDTH, HEIGHT = 900, 700
VIEW = View(WIDTH, HEIGHT, 1.0, WIDTH / 2, HEIGHT / 2)
NONE = np.zeros((1, 4), np.uint8)
WHITE, BLACK = np.full((1, 4), 255, np.uint8), np.array([[0, 0, 0, 255]], np.uint8)
ROUND = 0.5522847498  # handles of a quarter circle
QUARTER = np.array([(1, ROUND), (ROUND, 1), (0, 1)])
CIRCLE = np.concatenate([[(1, 0)], *(QUARTER @ np.linalg.matrix_power([(0, 1), (-1, 0)], k) for k in range(4))])
CIRCLE_VERBS = bytes([MOVE, CURVE, CURVE, CURVE, CURVE, CLOSE])
STOPS = (
    (0, "#FF0000"),
    (1 / 6, "#FF8C00"),
    (2 / 6, "#FFED00"),
    (3 / 6, "#00A03C"),
    (4 / 6, "#0078FF"),
    (5 / 6, "#5000C8"),
    (1, "#DC00A0"),
)
Loop = Callable[[QPainter], None]


@dataclass(frozen=True)
class Trial:
    """A scene and the loop that paints the same with a general painter."""

    name: str
    scene: Scene
    loop: Loop


def _scene(family: Family, maps: Array, coat: Coat) -> Scene:
    none, count = np.zeros(len(maps), np.int32), np.arange(len(maps), dtype=np.int32)
    marks = Marks((family,), none, family.variant if len(family.variant) == len(maps) else none, maps, count)
    return Scene(WIDTH, HEIGHT, "#FFFFFF", (SceneLayer("", Picture(marks, (coat,))),))


def _transforms(maps: Array) -> list[QTransform]:
    return [QTransform(a, c, b, d, e + WIDTH / 2, f + HEIGHT / 2) for (a, b, e), (c, d, f) in maps.tolist()]


def _chance(count: int) -> Array:
    colour = np.random.default_rng(1).integers(0, 256, (count, 4), dtype=np.uint8)
    colour[:, 3] = 255
    return colour


def hexagons(name: str, wanted: int) -> Trial:
    """A touching lattice that fills the picture, each hexagon with its own colour."""
    angle = np.radians(30 + 60 * np.arange(6))
    corners = np.stack([np.cos(angle), np.sin(angle)], -1)
    radius = np.sqrt(WIDTH * HEIGHT / wanted / (1.5 * np.sqrt(3)))
    across, down = np.sqrt(3) * radius, 1.5 * radius
    row, column = np.divmod(np.arange(wanted), int(np.ceil(WIDTH / across)) + 1)
    maps = np.zeros((wanted, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = radius
    maps[:, 0, 2] = (column + 0.5 * (row % 2)) * across - WIDTH / 2
    maps[:, 1, 2] = row * down - HEIGHT / 2
    colour = _chance(wanted)
    shape = QPolygonF([QPointF(x, y) for x, y in corners.tolist()])

    def loop(painter: QPainter) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        for where, (red, green, blue, _) in zip(_transforms(maps), colour.tolist(), strict=True):
            painter.setTransform(where)
            painter.setBrush(QBrush(QColor(red, green, blue)))
            painter.drawPolygon(shape)

    family = Family(polygon_verbs(6), corners[None], np.zeros(wanted, np.int32))
    return Trial(name, _scene(family, maps, Coat(colour, NONE, np.zeros(1))), loop)


def ramp_discs() -> Trial:
    """380 discs with a ramp of seven stops, turned and grown about the middle, the largest at the back."""
    k = np.arange(379, -1, -1)
    maps = linear(3.0 * k, 1.01**k, 1.01**k)
    disc = CIRCLE * 6 + [5, 0]
    ramp = Ramp(tuple(Stop(place, colour) for place, colour in STOPS), to_ramp=np.array([(1 / 12, 0, 1 / 12), (0, 1, 0)]))

    def loop(painter: QPainter) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        run = QLinearGradient(-1, 0, 11, 0)
        for place, colour in STOPS:
            run.setColorAt(place, QColor(colour))
        painter.setBrush(QBrush(run))
        for where in _transforms(maps):
            painter.setTransform(where)
            painter.drawEllipse(QPointF(5, 0), 6, 6)

    family = Family(CIRCLE_VERBS, disc[None], np.zeros(380, np.int32))
    return Trial("S3 380 ramp discs, much overdraw", _scene(family, maps, Coat(WHITE, NONE, np.zeros(1), paint=ramp)), loop)


def stroked_discs() -> Trial:
    """15,000 white discs with a black line of 1.5 px."""
    k = np.repeat(np.arange(50), 300)
    angle = np.tile(np.arange(300) * 2.399963, 50)
    radius = np.tile(30 + 22.1 * np.sqrt(np.arange(300)), 50)
    shrunk, turned = 0.955**k, np.radians(4 * k)
    maps = np.zeros((15_000, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = 9 * shrunk
    maps[:, 0, 2] = shrunk * radius * np.cos(angle + turned)
    maps[:, 1, 2] = shrunk * radius * np.sin(angle + turned)

    def loop(painter: QPainter) -> None:
        painter.setPen(QPen(QColor(0, 0, 0), 1.5))
        painter.setBrush(QBrush(QColor(255, 255, 255)))
        for (size, _, x), (_, _, y) in maps.tolist():
            painter.drawEllipse(QPointF(x + WIDTH / 2, y + HEIGHT / 2), size, size)

    family = Family(CIRCLE_VERBS, CIRCLE[None], np.zeros(15_000, np.int32))
    return Trial("S4 15,000 stroked discs", _scene(family, maps, Coat(WHITE, BLACK, np.array([1.5]))), loop)


def wavy_outlines() -> Trial:
    """2,000 wavy closed lines of 1 px, multiplied at 60 per cent."""
    rng, count = np.random.default_rng(5), 2000
    around = np.arange(60) * 2 * np.pi / 60
    middle = np.stack([rng.uniform(100, 800, count) - WIDTH / 2, rng.uniform(100, 600, count) - HEIGHT / 2], -1)
    radius, phase, lobes = rng.uniform(20, 120, count), rng.uniform(0, 6.28, count), rng.integers(3, 9, count)
    reach = radius[:, None] * (1 + 0.2 * np.sin(lobes[:, None] * around + phase[:, None]))
    points = np.stack([reach * np.cos(around), reach * np.sin(around)], -1)
    maps = np.zeros((count, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = 1.0
    maps[:, :, 2] = middle
    colour = _chance(count)
    colour[:, 3] = 153

    def loop(painter: QPainter) -> None:
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Multiply)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for where, ring, (red, green, blue, alpha) in zip(_transforms(maps), points.tolist(), colour.tolist(), strict=True):
            painter.setTransform(where)
            painter.setPen(QPen(QColor(red, green, blue, alpha), 1.0))
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in ring]))

    family = Family(polygon_verbs(60), points, np.arange(count, dtype=np.int32))
    coat = Coat(NONE, colour, np.ones(1), blend="multiply")
    return Trial("S5 2,000 wavy outlines, multiply", _scene(family, maps, coat), loop)


def long_line(width: float) -> Trial:
    """One open line of 200,000 points."""
    t = np.arange(200_000) / 200_000 * 2 * np.pi * 211
    points = 330 * np.stack([0.62 * np.cos(t) + 0.36 * np.cos(t * 3.7109), 0.62 * np.sin(t) - 0.36 * np.sin(t * 3.7109)], -1)
    maps = np.zeros((1, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = 1.0
    path = QPainterPath(QPointF(*points[0]))
    for x, y in points[1:].tolist():
        path.lineTo(x, y)

    def loop(painter: QPainter) -> None:
        painter.translate(WIDTH / 2, HEIGHT / 2)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(0, 0, 0), width, j=Qt.PenJoinStyle.MiterJoin))
        painter.drawPath(path)

    family = Family(bytes([MOVE] + [LINE] * 199_999), points[None], np.zeros(1, np.int32))
    return Trial(f"S6 one line of 200,000 points, {width:g} px", _scene(family, maps, Coat(NONE, BLACK, np.array([width]))), loop)


def all_trials() -> list[Trial]:
    """Return all scenes."""
    return [
        hexagons("S1 10,000 hexagons", 10_000),
        hexagons("S2 100,000 hexagons", 100_000),
        ramp_discs(),
        stroked_discs(),
        wavy_outlines(),
        long_line(1.0),
        long_line(2.0),
    ]


def by_loop(trial: Trial) -> QImage:
    """Paint a scene with the plain loop."""
    image = QImage(WIDTH, HEIGHT, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    trial.loop(painter)
    painter.end()
    return image
