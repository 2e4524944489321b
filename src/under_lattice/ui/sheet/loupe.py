"""The loupe: the sheet's pixels large under the pointer, one of which is taken as a colour."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, Qt, Signal
from PySide6.QtGui import (
    QCloseEvent,
    QColor,
    QFocusEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QWidget

from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.sheet.canvas import Canvas

ACROSS, EACH = 11, 10  # pixels seen, and how large each is
STEPS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
FAR = 10  # px of a step with Shift


class Loupe(QWidget):
    """Lies over a canvas until a colour is taken or given up; moved by the pointer or by arrow keys.

    `ended` says which colour was taken, or nothing.
    """

    ended = Signal(str)

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAccessibleName("Loupe: a press takes the colour under it")
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._taken = ""
        self._image = self._pixels_of(canvas)
        self._page = canvas.page().intersected(QRectF(canvas.rect()))
        at = canvas.mapFromGlobal(canvas.cursor().pos())
        self.at = at if self._page.contains(QPointF(at)) else self._page.center().toPoint()
        self.setGeometry(canvas.rect())
        canvas.view_changed.connect(self.close)
        self.show()
        self.setFocus()

    @staticmethod
    def _pixels_of(canvas: Canvas) -> QImage:
        """The sheet as it is seen now, without handles."""
        image = QImage(canvas.size(), QImage.Format.Format_RGB32)
        painter = QPainter(image)
        canvas.paint_sheet(painter)
        painter.end()
        return image

    @property
    def value(self) -> str:
        """The colour under the middle, or nothing beside the sheet."""
        inside = self._page.contains(QPointF(self.at)) and self._image.valid(self.at)
        return self._image.pixelColor(self.at).name().upper() if inside else ""

    def _go(self, at: QPoint) -> None:
        self.at = at
        self.setAccessibleDescription(self.value or "beside the sheet")
        self.update()

    def _take(self) -> None:
        self._taken = self.value
        if self._taken:
            self.close()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._go(event.position().toPoint())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._go(event.position().toPoint())
        if event.button() == Qt.MouseButton.LeftButton:
            self._take()
        else:
            self.close()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in STEPS:
            far = FAR if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self._go(self.at + QPoint(*STEPS[key]) * far)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._take()
        elif key == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        super().closeEvent(event)
        self.ended.emit(self._taken)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if event.reason() != Qt.FocusReason.ActiveWindowFocusReason:
            self.close()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        side = px(ACROSS * EACH)
        box = QRectF(0, 0, side, side)
        box.moveCenter(QPointF(self.at))
        shape = QPainterPath()
        shape.addEllipse(box)
        painter.setClipPath(shape)
        half = ACROSS // 2
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        painter.fillPath(shape, colour("surround"))
        seen = QRect(self.at.x() - half, self.at.y() - half, ACROSS, ACROSS)
        painter.drawImage(box, self._image.copy(seen))
        painter.setClipping(False)
        for ink, wide in ((QColor("black"), 4.0), (QColor("white"), 2.0)):
            painter.setPen(QPen(ink, wide))
            painter.drawEllipse(box)
            one = QRectF(0, 0, side / ACROSS, side / ACROSS)
            one.moveCenter(box.center())
            painter.drawRect(one)
        self._paint_words(painter, box)
        painter.end()

    def _paint_words(self, painter: QPainter, box: QRectF) -> None:
        """The colour in figures below the loupe, above it where there is no room."""
        words = self.value or "beside the sheet"
        wide, high = painter.fontMetrics().horizontalAdvance(words) + px(30), painter.fontMetrics().height() + px(6)
        below = box.bottom() + px(6)
        top = below if below + high < self.height() else box.top() - high - px(6)
        label = QRectF(box.center().x() - wide / 2, top, wide, high)
        painter.setPen(QPen(colour("strong"), 1))
        painter.setBrush(colour("open"))
        painter.drawRoundedRect(label, 4, 4)
        if self.value:
            painter.fillRect(label.adjusted(6, 5, -wide + 18, -5), QColor(self.value))
        painter.setPen(colour("text"))
        painter.drawText(label.adjusted(px(14), 0, 0, 0), Qt.AlignmentFlag.AlignCenter, words)
