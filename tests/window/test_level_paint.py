"""Outlines of what is under the pointer: few smooth, many thin, once for each view."""

import numpy as np
import pytest
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QImage, QPainter

from tests.chains import work_of
from tests.window.conftest import Hands
from under_lattice.picking.picker import Level
from under_lattice.rules import Ellipse, Ink, Lattice, Rosette
from under_lattice.ui.sheet import level_paint
from under_lattice.ui.sheet.level_paint import MANY, LevelPaint

pytestmark = pytest.mark.usefixtures("qapp")
ROOM = QRectF(0, 0, 400, 300)
MIDDLE = np.array([200.0, 150.0])


def squares(count, size=4.0, apart=8.0):
    corners = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * size / 2
    places = np.array([((k % 40 - 20) * apart, (k // 40 - 14) * apart) for k in range(count)])
    return tuple(corners + place for place in places)


def painted(level, ground="#C2694C", paint=None, shift=0.0):
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(QColor("#C2694C"))
    painter = QPainter(image)
    (paint or LevelPaint()).paint(painter, level, lambda at: np.asarray(at) + MIDDLE + shift, QPointF(5, 5), ROOM, ground)
    painter.end()
    return np.frombuffer(image.constBits(), np.uint8).reshape(300, -1, 4)[:, :, :3].astype(int)


@pytest.mark.parametrize(("ground", "line"), [("#FFFFFF", 0x1C), ("#101820", 0xED)])
@pytest.mark.parametrize("count", [100, MANY // 2])
def test_each_side_of_each_outline_is_seen_on_a_light_and_a_dark_ground(count, ground, line):
    seen = painted(Level("many", squares(count)), ground)
    for ring in squares(count)[50:]:  # away from the words
        begin, end = ring + MIDDLE, np.roll(ring, -1, 0) + MIDDLE
        for share in (0.25, 0.5, 0.75):
            x, y = np.floor(begin + (end - begin) * share).astype(int).T
            around = [np.abs(seen[y + dy, x + dx] - line).max(1) for dy in (-1, 0) for dx in (-1, 0)]
            assert (np.min(around, 0) < 90).all()


def test_many_outlines_are_drawn_once_as_long_as_the_view_stays(monkeypatch):
    drawn, paint, level = [], LevelPaint(), Level("many", squares(1000))
    real = level_paint._thin
    monkeypatch.setattr(level_paint, "_thin", lambda *given: drawn.append(1) or real(*given))
    first = painted(level, paint=paint)
    assert (painted(level, paint=paint) == first).all()
    assert len(drawn) == 1
    assert (painted(level, paint=paint, shift=3.0) != first).any()  # another view
    painted(Level("others", squares(900)), paint=paint)
    assert len(drawn) == 3


def test_outlines_outside_far_away_endless_or_of_no_points_harm_nothing():
    far = tuple(ring + 1e7 for ring in squares(500))
    wide = (np.array([(-1e9, -1e9), (1e9, -1e9), (1e9, 1e9), (-1e9, 1e9)]),) * 300
    across = (np.array([(-5e4, -20.0), (5e4, -20.0), (5e4, 20.0), (-5e4, 20.0)]),)
    none = (np.zeros((0, 2)), np.zeros((1, 2)))
    ground = painted(Level("", ()))
    assert (painted(Level("", far)) == ground).all()
    assert (painted(Level("", wide)) == ground).all()
    seen = painted(Level("", (*none, *far, *across, *none)), "#FFFFFF")
    assert (np.abs(seen[130, 40:360] - 0x1C).max(1) < 40).all()


def test_a_copy_of_hundreds_is_pointed_at(qtbot, window, monkeypatch):
    lattice = Lattice(form="squares", spacing="free", pitch=4.0, row_pitch=4.0, extent="by number", columns=21, rows=21)
    hands = Hands(qtbot, window).show(work_of(Ellipse(width=3.0), Ink(), lattice, Rosette(count=1)))
    qtbot.waitUntil(lambda: hands.studio.facts.copies == 21 * 21, timeout=20_000)
    sheet, drawn, real = hands.studio.sheet, [], level_paint._thin
    monkeypatch.setattr(type(sheet), "underMouse", lambda self: True)
    monkeypatch.setattr(level_paint, "_thin", lambda *given: drawn.append(1) or real(*given))
    place = hands.studio.results[hands.studio.layer].last.stage.xform[0, :, 2]
    sheet.pointed.emit(*sheet.to_page(sheet.to_widget(*place)))
    qtbot.waitUntil(lambda: sheet.under is not None, timeout=20_000)
    for _ in hands.studio._picked.levels:
        if sum(map(len, sheet.under.rings)) > MANY:
            break
        sheet.pressed.emit()
    for _ in range(3):
        sheet.repaint()
    assert len(drawn) == 1, [(one.words, sum(map(len, one.rings))) for one in hands.studio._picked.levels]
