"""A picture that hangs in the tray: framed when it is pointed at, picked or now, with a word in its corner."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QMimeData, QPoint, QRectF, Qt, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QDrag,
    QEnterEvent,
    QFocusEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)
from PySide6.QtWidgets import QAbstractButton, QWidget

from under_lattice.ui.look.tokens import colour

BY_KEYS = (
    Qt.FocusReason.TabFocusReason,
    Qt.FocusReason.BacktabFocusReason,
    Qt.FocusReason.ShortcutFocusReason,
    Qt.FocusReason.OtherFocusReason,
)

SIBLING = "application/x-under-lattice-sibling"  # the form in which one is carried to the shelf
DRAG = 8  # px from where it was pressed


class Tile(QAbstractButton):
    """One picture.

    Attributes
    ----------
    word : str
        In its corner, while it is looked at.
    marked : bool
        It is the work as it is, or what is picked.
    """

    looked_at = Signal(bool)
    taken = Signal()  # a double press, Space or Return
    key_pressed = Signal(QKeyEvent)
    menu_wanted = Signal(object)

    def __init__(self, width: int, height: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedSize(width, height)
        self.picture: QImage | None = None
        self.word = ""
        self.marked = self.always = False
        self.hover = self.by_keys = False
        self.carries: tuple[str, str] | None = None  # form and text of what is carried when it is dragged
        self._pressed = QPoint()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_picture(self, picture: QImage | None) -> None:
        """Show a picture, or an empty place."""
        self.picture = picture
        self.setEnabled(picture is not None)
        self.update()

    @property
    def seen(self) -> bool:
        """Whether it is looked at: under the pointer, or with the focus that keys brought."""
        return self.hover or (self.hasFocus() and self.by_keys)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        whole = QRectF(self.rect())
        box = whole.adjusted(2, 2, -2, -2)
        painter.fillRect(box, colour("hover"))
        if self.picture is not None:
            painter.drawImage(box, self.picture)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.seen or self.hasFocus():
            painter.setPen(QPen(colour("tag"), 1))
            painter.drawRect(box.adjusted(1.5, 1.5, -1.5, -1.5))
            painter.setPen(QPen(colour("ver" if self.hasFocus() else "text"), 3))
            painter.drawRect(whole.adjusted(1.5, 1.5, -1.5, -1.5))
        elif self.marked:
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRect(whole.adjusted(1, 1, -1, -1))
        else:
            painter.setPen(QPen(colour("line"), 1))
            painter.drawRect(box.adjusted(-0.5, -0.5, 0.5, 0.5))
        if self.word and (self.always or self.seen or self.hasFocus()):
            wide = painter.fontMetrics().horizontalAdvance(self.word) + 8
            tag = QRectF(5, 5, wide, 18)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour("tag"))
            painter.drawRoundedRect(tag, 2, 2)
            painter.setPen(colour("text"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, self.word)
        painter.end()

    def _look(self, hover: bool) -> None:
        self.hover = hover
        self.looked_at.emit(self.seen)
        self.update()

    def enterEvent(self, event: QEnterEvent) -> None:
        self._look(True)

    def leaveEvent(self, event: QEvent) -> None:
        self.by_keys = False
        self._look(False)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.by_keys = event.reason() in BY_KEYS
        self.looked_at.emit(self.seen)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.by_keys = False
        self.looked_at.emit(self.seen)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed = event.position().toPoint()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        far = (event.position().toPoint() - self._pressed).manhattanLength() > DRAG
        if self.carries is None or not event.buttons() & Qt.MouseButton.LeftButton or not far:
            super().mouseMoveEvent(event)
            return
        drag, data = QDrag(self), QMimeData()
        data.setData(self.carries[0], self.carries[1].encode())
        drag.setMimeData(data)
        if self.picture is not None:
            drag.setPixmap(QPixmap.fromImage(self.picture))
        self.setDown(False)
        drag.exec(Qt.DropAction.MoveAction)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self.taken.emit()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.taken.emit()
            return
        event.ignore()
        self.key_pressed.emit(event)
        if not event.isAccepted():
            super().keyPressEvent(event)
