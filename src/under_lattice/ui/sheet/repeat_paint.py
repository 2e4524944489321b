"""A cell repeated on the canvas: three by three, straight, in half-drop or as bricks; its edge and the sheet's told apart."""

from __future__ import annotations

from typing import Literal, Protocol, get_args

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from under_lattice.ui.look.tokens import colour
from under_lattice.ui.sheet.compare import paint_word

Laid = Literal["straight", "half-drop", "brick"]
LAID: tuple[Laid, ...] = get_args(Laid)
AROUND = 1  # cells on each side of the one in the middle


class Shown(Protocol):
    """A widget that shows the sheet."""

    scale: float

    def to_widget(self, x: float, y: float) -> QPointF:
        """Return the widget's point at a point of the page."""

    def page(self) -> QRectF:
        """Return where the sheet lies in the widget."""

    def update(self) -> None:
        """Paint it anew."""


class Repeated:
    """What of a cell is shown; nothing while `on` is not set."""

    def __init__(self, canvas: Shown) -> None:
        self.canvas = canvas
        self.on = False
        self.laid: Laid = "straight"
        self.image: QImage | None = None
        self.width = self.height = 1.0  # of the cell, in the unit of the work
        self.words = ""

    def show(self, image: QImage | None, width: float, height: float, words: str) -> None:
        """Take over the picture of a cell, its size and its name."""
        self.image, self.width, self.height, self.words = image, width, height, words
        self.canvas.update()

    def cells(self) -> list[QRectF]:
        """Return where the cells lie in the widget, the middle one first; more than nine where columns or rows are shifted."""
        out = []
        reach = range(-AROUND, AROUND + 1)
        more = (*reach, AROUND + 1)
        for i in more if self.laid == "brick" else reach:
            for j in more if self.laid == "half-drop" else reach:
                across = i - (0.5 if self.laid == "brick" and j % 2 else 0.0)
                down = j - (0.5 if self.laid == "half-drop" and i % 2 else 0.0)
                corner = self.canvas.to_widget((across - 0.5) * self.width, (down - 0.5) * self.height)
                out.append((abs(i) + abs(j), QRectF(corner, self._size())))
        return [rect for _, rect in sorted(out, key=lambda one: one[0])]

    def _size(self) -> QSizeF:
        return QSizeF(self.width * self.canvas.scale, self.height * self.canvas.scale)

    def region(self) -> QRectF:
        """Return where three by three cells lie in the widget."""
        wide, high = (AROUND + 0.5) * self.width, (AROUND + 0.5) * self.height
        return QRectF(self.canvas.to_widget(-wide, -high), self.canvas.to_widget(wide, high))

    def paint(self, painter: QPainter) -> None:
        """Paint the cells and the edges of the middle one and of the sheet, each with its name."""
        if not self.on or self.image is None:
            return
        cells, middle = self.cells(), QRectF(self.canvas.to_widget(-self.width / 2, -self.height / 2), self._size())
        painter.save()
        painter.setClipRect(self.region())
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        for cell in cells:
            painter.drawImage(_on_pixels(cell), self.image)
        painter.restore()  # no line lies on the seams of the others, so that they are seen
        _edge(painter, middle, colour("ver"), 2.0, Qt.PenStyle.SolidLine)
        paint_word(painter, self.words, middle.topLeft() + QPointF(8, 8))
        page = self.canvas.page()
        if abs(page.width() - middle.width()) > 1 or abs(page.height() - middle.height()) > 1:
            _edge(painter, page, colour("text"), 1.0, Qt.PenStyle.DashLine)
            paint_word(painter, "sheet", QPointF(page.right() - 8, page.bottom() - 30), 1.0)


def _on_pixels(rect: QRectF) -> QRectF:
    """The same with edges on whole px, so that neighbours leave no gap."""
    left, top, right, bottom = round(rect.left()), round(rect.top()), round(rect.right()), round(rect.bottom())
    return QRectF(left, top, right - left, bottom - top)


def _edge(painter: QPainter, rect: QRectF, line: QColor, width: float, style: Qt.PenStyle) -> None:
    """A line round a rectangle, on a pale one so that it is seen on any ground."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(colour("tag"), width + 2))
    painter.drawRect(rect)
    painter.setPen(QPen(line, width, style))
    painter.drawRect(rect)
