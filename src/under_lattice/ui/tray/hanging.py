"""The hanging thread: the work as it is on top, from its bead two strands of four siblings, and the end bead that says how far."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from under_lattice.ui.look.thread import draw_thread, round_bead
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.tray.tile import SIBLING, Tile

WIDE, TILE_WIDE = 240, 112
COUNT, APART = 8, 128  # from one strand to the other
NOW_LEAST, NOW_MOST, TILE_LEAST, TILE_MOST = 76, 150, 54, 104
ABOVE, BETWEEN, BELOW = 24, 10, 54  # from now to the first tiles, from tile to tile, the tail with its bead
TRAVEL = 32
WAYS = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: 2, Qt.Key.Key_Up: -2, Qt.Key.Key_Home: -99, Qt.Key.Key_End: 99}


class Reach(QWidget):
    """The end bead of the thread: dragged up or down it says how far values may roam."""

    moved = Signal(float)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.share = 0.5
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedSize(28, TRAVEL + 22)
        self.setCursor(Qt.CursorShape.SizeVerCursor)
        self.setToolTip("How far the next deal may roam: drag, or arrow keys")
        self.show_share(0.5)

    def show_share(self, share: float) -> None:
        """Put the bead at a share 0..1."""
        self.share = share
        self.setAccessibleName(f"How far, {share:.0%}")
        self.update()

    def _y(self) -> float:
        return 11 + self.share * TRAVEL

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        path = QPainterPath(QPointF(self.width() / 2, 0))
        path.lineTo(self.width() / 2, self._y())
        draw_thread(painter, path)
        round_bead(painter, QPointF(self.width() / 2, self._y()), 7, self.hasFocus(), None, colour("panel"))
        painter.end()

    def _to(self, share: float) -> None:
        share = min(max(share, 0.0), 1.0)
        if share != self.share:
            self.show_share(share)
            self.moved.emit(share)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._to(round((event.position().y() - 11) / TRAVEL, 2))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.02
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Right):
            self._to(round(self.share + step, 2))
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Left):
            self._to(round(self.share - step, 2))
        else:
            super().keyPressEvent(event)


class Hanging(QWidget):
    """The pictures on their threads."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(WIDE)
        self.now = Tile(WIDE, NOW_LEAST, self)
        self.now.word, self.now.marked, self.now.always = "now", True, True
        self.now.setAccessibleName("The work as it is")
        self.now.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.now.setCursor(Qt.CursorShape.ArrowCursor)
        self.tiles = [Tile(TILE_WIDE, TILE_LEAST, self) for _ in range(COUNT)]
        for k, tile in enumerate(self.tiles):
            tile.word = str(k + 1)
            tile.carries = (SIBLING, str(k))
            tile.key_pressed.connect(lambda event, k=k: self._walk(k, event))
            tile.show_picture(None)
        self.reach = Reach(self)
        self.far = QWidget(self)  # holds the number beside the bead
        self.lay(0)

    def lay(self, room: int) -> None:
        """Hang the pictures as large as there is room, in px from top to bottom."""
        spare = max(0, room - (NOW_LEAST + ABOVE + 4 * (TILE_LEAST + BETWEEN) + BELOW))
        self.tile_high = min(TILE_MOST, TILE_LEAST + spare // 5)
        self.now_high = min(NOW_MOST, NOW_LEAST + spare - 4 * (self.tile_high - TILE_LEAST))
        self.now.setFixedHeight(self.now_high)
        for k, tile in enumerate(self.tiles):
            tile.setFixedHeight(self.tile_high)
            tile.move((k % 2) * APART, self._row_top(k // 2))
        self.reach.move((WIDE - self.reach.width()) // 2, self._tail() + 4)
        self.far.setGeometry(0, self._tail() + 16, WIDE // 2 - 16, 28)
        self.setFixedHeight(self._tail() + BELOW)
        self.update()

    def _row_top(self, row: int) -> int:
        return self.now_high + ABOVE + row * (self.tile_high + BETWEEN)

    def _tail(self) -> int:
        """Where the strands meet, px from the top."""
        return self._row_top(4)

    def sizes(self) -> tuple[QSize, QSize]:
        """Return the sizes of the pictures: of the work as it is, and of a sibling."""
        return QSize(WIDE - 4, self.now_high - 4), QSize(TILE_WIDE - 4, self.tile_high - 4)

    def _walk(self, at: int, event: QKeyEvent) -> None:
        """Walk along the thread by arrow keys: left and right from one to the next, up and down along a strand."""
        way = WAYS.get(Qt.Key(event.key()))
        if way is None:
            return
        to = min(max(at + way, 0), COUNT - 1) if abs(way) > 2 or 0 <= at + way < COUNT else at
        while to != at and not self.tiles[to].isEnabled():
            to -= 1 if to > at else -1
        self.tiles[to].setFocus(Qt.FocusReason.OtherFocusReason)
        event.accept()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, high, top, tail = WIDE / 2, self.now_high, self._row_top(0), self._tail()
        for k in (0, 1):
            x = k * APART + TILE_WIDE / 2
            path = QPainterPath(QPointF(middle, high))
            path.cubicTo(middle, high + 16, x, high + 4, x, top)
            path.lineTo(x, tail - 10)
            path.cubicTo(x, tail + 2, middle, tail - 8, middle, tail + 6)
            draw_thread(painter, path)
            for row in range(4):
                round_bead(painter, QPointF(x, self._row_top(row) - 5), 3, True)
        round_bead(painter, QPointF(middle, high + 1), 5, True)
        painter.setPen(QPen(colour("strong"), 1))
        left = middle + 14
        for k in range(5):
            y = tail + 15 + k * TRAVEL / 4
            painter.drawLine(QPointF(left, y), QPointF(left + 5, y))
        painter.setPen(colour("text2"))
        font = painter.font()
        font.setPixelSize(max(12, font.pixelSize() - 1))
        painter.setFont(font)
        painter.drawText(QRectF(left + 10, tail + 6, 80, 18), Qt.AlignmentFlag.AlignVCenter, "near")
        painter.drawText(QRectF(left + 10, tail + 6 + TRAVEL, 80, 18), Qt.AlignmentFlag.AlignVCenter, "far")
        painter.end()
