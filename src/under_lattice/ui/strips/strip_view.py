"""The strip itself: pictures in rows, a thread with beads over the columns and one beside the rows."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QWidget

from under_lattice.explore.strips import Axis, Strip
from under_lattice.ui.look.thread import draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.look.words import tip
from under_lattice.ui.tray.tile import Tile

SIDE, TOP, GAP, EDGE = 92, 58, 4, 24
BEAD, BIG = 5.0, 8.0
LARGE_LEAST = 150  # px of height that a large picture needs
SMALLEST = 28  # px of a picture's shorter side; of more pictures the strip is scrolled


class StripView(QWidget):
    """Shows a strip; a press picks a picture, a double press or Space adopts it, arrow keys walk."""

    picked = Signal(int, int)
    looked_at = Signal(int, int)  # below zero when none is
    adopted = Signal(int, int)
    key_pressed = Signal(int, int, QKeyEvent)
    menu_wanted = Signal(int, int, object)
    stretched = Signal(bool, float, float)  # across or down, its new ends as shares of the old run
    resized = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.strip: Strip | None = None
        self.tiles: dict[tuple[int, int], Tile] = {}
        self.chosen: tuple[int, int] | None = None
        self.large: QImage | None = None
        self.large_words = ""
        self._end: tuple[bool, bool] | None = None  # the end bead that is held: across or down, the last or the first
        self.setAccessibleName("Test strip")
        self.setMouseTracking(True)

    # -- what is shown ---------------------------------------------------------------------------
    def show_strip(self, strip: Strip) -> None:
        """Take over a strip; pictures come later."""
        if self.chosen is not None and not (self.chosen[0] < strip.columns and self.chosen[1] < strip.rows):
            self.chosen = None
        focused = next((at for at, tile in self.tiles.items() if tile.hasFocus()), None)
        before, self.strip = self.tiles, strip
        size = self.cell_size()
        places = [(column, row) for row in range(strip.rows) for column in range(strip.columns)]
        self.tiles = {at: before[at] for at in places if at in before and before[at].size() == size}
        gone = [tile for at, tile in before.items() if at not in self.tiles]
        for tile in gone:
            tile.blockSignals(True)  # the focus wanders over them while they go
        for tile in gone:
            tile.hide()
            tile.deleteLater()
        for column, row in places:
            if (column, row) not in self.tiles:
                tile = self.tiles[column, row] = Tile(size.width(), size.height(), self)
                tile.move(self._corner(column, row, size))
                self._connect(tile, column, row)
                tile.show()
            tile = self.tiles[column, row]
            tile.word, tile.always = "", False
            tile.setToolTip("")
            tile.setAccessibleName(self._words(column, row))
            tile.show_picture(None)
            tile.setEnabled(True)
        self._mark()
        if focused is not None and focused in self.tiles:
            self.tiles[focused].setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    def _connect(self, tile: Tile, column: int, row: int) -> None:
        tile.clicked.connect(lambda: self.pick(column, row))
        tile.taken.connect(lambda: self.adopted.emit(column, row))
        tile.looked_at.connect(lambda seen: self.looked_at.emit(*((column, row) if seen else (-1, -1))))
        tile.key_pressed.connect(lambda event: self._key(column, row, event))
        tile.menu_wanted.connect(lambda where: self.menu_wanted.emit(column, row, where))

    def _words(self, column: int, row: int) -> str:
        assert self.strip is not None
        words = [f"{self.strip.across.label} {self.strip.across.steps[column].words}"]
        if self.strip.down is not None:
            words.append(f"{self.strip.down.label} {self.strip.down.steps[row].words}")
        return ", ".join(words)

    def show_picture(self, column: int, row: int, picture: QImage) -> None:
        """Show the picture of a cell."""
        if (column, row) in self.tiles:
            self.tiles[column, row].show_picture(picture)

    def show_large(self, picture: QImage | None, words: str = "") -> None:
        """Show the picture that is looked at large below a strip of one row, with its values in words."""
        self.large, self.large_words = picture, words
        self.update()

    def large_room(self) -> QRect:
        """Return where a picture can be shown large: what is left below a strip of one row; nothing where that is little."""
        if self.strip is None or self.strip.down is not None:
            return QRect()
        top = TOP + self.cell_size().height() + EDGE
        room = QRect(EDGE, top, self.width() - 2 * EDGE, self.height() - top - 28)
        sheet = self.strip.design.sheet
        scale = min(room.width() / sheet.width, room.height() / sheet.height)
        if room.height() < LARGE_LEAST:
            return QRect()
        wide, high = int(sheet.width * scale), int(sheet.height * scale)
        return QRect(room.center().x() - wide // 2, top, wide, high)

    def show_problem(self, column: int, row: int, sentence: str) -> None:
        """Say why there is no picture of a cell."""
        if (column, row) in self.tiles:
            self.tiles[column, row].setToolTip(tip(sentence))
            self.tiles[column, row].word = "cannot be"
            self.tiles[column, row].always = True
            self.tiles[column, row].update()

    def pick(self, column: int, row: int) -> None:
        """Pick a cell: shown large, and what buttons act on."""
        self.chosen = (column, row)
        self._mark()
        self.picked.emit(column, row)

    def _mark(self) -> None:
        now = self.strip.now if self.strip is not None else None
        for at, tile in self.tiles.items():
            tile.marked = at in (now, self.chosen)
            tile.word = "now" if at == now else "picked" if at == self.chosen else ""
            tile.always = bool(tile.word)
            tile.update()

    # -- where things stand ----------------------------------------------------------------------
    def _room(self) -> tuple[int, int]:
        """Pixels at the left and above, before the pictures: at least the room of the words, and what centres them."""
        least = self._least()
        if self.strip is None:
            return least, TOP
        wide = self.strip.columns * (self.cell_size().width() + GAP) - GAP
        return least + max(0, (self.width() - least - EDGE - wide) // 2), TOP

    def _least(self) -> int:
        return SIDE if self.strip is not None and self.strip.down is not None else EDGE

    def cell_size(self) -> QSize:
        """Return the size of a picture: as large as all fit."""
        if self.strip is None:
            return QSize(100, 100)
        left, top = self._least(), TOP
        sheet = self.strip.design.sheet
        wide = (self.width() - left - EDGE - GAP * (self.strip.columns - 1)) / self.strip.columns
        high = (self.height() - top - EDGE - GAP * (self.strip.rows - 1)) / self.strip.rows
        scale = min(wide / sheet.width, high / sheet.height)
        scale = max(scale, SMALLEST / min(sheet.width, sheet.height))
        return QSize(max(8, int(sheet.width * scale)), max(8, int(sheet.height * scale)))

    def _corner(self, column: int, row: int, size: QSize) -> QPoint:
        left, top = self._room()
        return QPoint(left + column * (size.width() + GAP), top + row * (size.height() + GAP))

    def _beads(self, down: bool) -> list[QPointF]:
        """Places of the beads of an axis."""
        if self.strip is None:
            return []
        size, (left, top) = self.cell_size(), self._room()
        if down:
            return [
                QPointF(left - 14, top + row * (size.height() + GAP) + size.height() / 2)
                for row in range(self.strip.rows if self.strip.down is not None else 0)
            ]
        return [QPointF(left + column * (size.width() + GAP) + size.width() / 2, top - 14) for column in range(self.strip.columns)]

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.resized.emit()

    # -- painting --------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("surround"))
        if self.strip is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            now = self.strip.now
            self._paint_axis(painter, self.strip.across, False, now[0] if now else None)
            if self.strip.down is not None:
                self._paint_axis(painter, self.strip.down, True, now[1] if now else None)
            self._paint_large(painter, self.large_room())
        painter.end()

    def _paint_large(self, painter: QPainter, room: QRect) -> None:
        if room.isEmpty() or self.large is None:
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(room, self.large)
        painter.setPen(QPen(colour("edge"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(room.adjusted(-1, -1, 0, 0))
        painter.setPen(colour("text"))
        painter.drawText(QRect(room.left(), room.bottom() + 4, room.width(), 20), Qt.AlignmentFlag.AlignCenter, self.large_words)

    def _paint_axis(self, painter: QPainter, axis: Axis, down: bool, now: int | None) -> None:
        beads, size = self._beads(down), self.cell_size()
        draw_thread(painter, straight(beads[0].x(), beads[0].y(), beads[-1].x(), beads[-1].y()))
        chosen = self.chosen[int(down)] if self.chosen is not None else -1
        metrics = painter.fontMetrics()
        for k, (at, step) in enumerate(zip(beads, axis.steps, strict=True)):
            round_bead(painter, at, BIG if k == now else BEAD, k in (now, chosen), None, colour("surround"))
            font = painter.font()
            font.setBold(k in (now, chosen))
            painter.setFont(font)
            painter.setPen(QPen(colour("text")))
            room = SIDE - 28 if down else size.width()
            words = metrics.elidedText(step.words, Qt.TextElideMode.ElideRight, int(room))
            if down:
                box = QRectF(at.x() - SIDE + 16, at.y() - 9, SIDE - 26, 18)
                painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
            elif size.width() > 34 or k in (0, len(beads) - 1, now):
                painter.drawText(QRectF(at.x() - room / 2, at.y() - 32, room, 18), Qt.AlignmentFlag.AlignCenter, words)
        font = painter.font()
        font.setBold(False)
        painter.setFont(font)

    # -- hands -----------------------------------------------------------------------------------
    def _end_at(self, at: QPointF) -> tuple[bool, bool] | None:
        """The end bead under a point, if its axis can be stretched."""
        for down, axis in ((False, self.strip.across), (True, self.strip.down)) if self.strip is not None else ():
            beads = self._beads(down)
            if axis is None or axis.run is None:
                continue
            for last, bead in ((False, beads[0]), (True, beads[-1])):
                if (bead - at).manhattanLength() < 14:
                    return down, last
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._end = self._end_at(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        held = self._end or self._end_at(event.position())
        shape = Qt.CursorShape.ArrowCursor
        if held is not None:
            shape = Qt.CursorShape.SizeVerCursor if held[0] else Qt.CursorShape.SizeHorCursor
        self.setCursor(shape)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let an end bead go: the axis is stretched or squeezed by as much as it was drawn."""
        if self._end is not None:
            down, last = self._end
            beads = self._beads(down)
            first, final = (beads[0].y(), beads[-1].y()) if down else (beads[0].x(), beads[-1].x())
            at = event.position().y() if down else event.position().x()
            share = (at - first) / max(final - first, 1.0)
            self._end = None
            if abs(share - float(last)) > 0.03:
                self.stretched.emit(down, *((0.0, share) if last else (share, 1.0)))

    def _key(self, column: int, row: int, event: QKeyEvent) -> None:
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        way = ways.get(Qt.Key(event.key()))
        if way is not None:
            to = (column + way[0], row + way[1])
            if to in self.tiles:
                self.tiles[to].setFocus(Qt.FocusReason.OtherFocusReason)
            event.accept()
        else:
            self.key_pressed.emit(column, row, event)
