"""The thread of time: a bead that is dragged through the loop, and the part of it that is worked on."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QAccessible, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from under_lattice.ui.look.thread import draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import colour, px
from under_lattice.work.model import Loop

PAD, NEAR, HIGH = 12.0, 8.0, 28
SECONDS = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 300.0, 600.0)  # between two marks
MARKS_MOST = 24


class TimeThread(QWidget):
    """Drag or press to scrub; drag the small bars for the part that is worked on; keys step."""

    scrubbed = Signal(float)  # 0..1
    stepped = Signal(int)  # so many pictures on
    area_changed = Signal(float, float)
    let_go = Signal()
    spoken_role = QAccessible.Role.Slider

    def __init__(self) -> None:
        super().__init__()
        self.loop, self.time = Loop(), 0.0
        self._held = ""
        self.setFixedHeight(px(HIGH))
        self.setMinimumWidth(px(160))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Time of the loop")
        self.setToolTip(
            "Drag through the loop; drag the bars at the ends for the part that is worked on. Keys: left and right a picture, "
            "Page up and down a tenth, Home and End, Space plays."
        )

    def spoken_value(self) -> str:
        """Return the time, and how long the loop is."""
        return f"{self.time * self.loop.seconds:.2f} of {self.loop.seconds:g} seconds"

    def show_loop(self, loop: Loop, time: float) -> None:
        """Show a time of a loop."""
        self.loop, self.time = loop, time
        self.update()

    def x_of(self, time: float) -> float:
        """Return where a time is drawn, in px."""
        return PAD + time * (self.width() - 2 * PAD)

    def time_at(self, x: float) -> float:
        """Return the time, 0..1, at a place in px, on a whole picture."""
        share = min(max((x - PAD) / max(self.width() - 2 * PAD, 1.0), 0.0), 1.0)
        return round(share * self.loop.pictures) / self.loop.pictures

    # -- mouse and keys ---------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        x = event.position().x()
        ends = {"begin": self.loop.begin, "end": self.loop.end}
        low = event.position().y() > self.height() * 0.62
        near = [name for name, time in ends.items() if abs(self.x_of(time) - x) <= NEAR] if low else []
        self._held = near[0] if near else "time"
        if self._held == "time":
            self.scrubbed.emit(self.time_at(x))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        time = self.time_at(event.position().x())
        if self._held == "time":
            self.scrubbed.emit(time)
        elif self._held == "begin" and time < self.loop.end:
            self.area_changed.emit(time, self.loop.end)
        elif self._held == "end" and time > self.loop.begin:
            self.area_changed.emit(self.loop.begin, time)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._held = ""
            self.let_go.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if event.position().y() > self.height() * 0.62:
            self.area_changed.emit(0.0, 1.0)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        tenth = max(1, self.loop.pictures // 10)
        ways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_PageUp: -tenth, Qt.Key.Key_PageDown: tenth}
        key = Qt.Key(event.key())
        if key in ways:
            self.stepped.emit(ways[key])
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self.scrubbed.emit(self.loop.begin if key == Qt.Key.Key_Home else self.loop.end)
        else:
            super().keyPressEvent(event)

    # -- paint ------------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y, left, right = self.height() * 0.42, self.x_of(0.0), self.x_of(1.0)
        self._paint_marks(painter, y)
        draw_thread(painter, straight(left, y, right, y), colour("strong"), 1.4)
        begin, end = self.x_of(self.loop.begin), self.x_of(self.loop.end)
        draw_thread(painter, straight(begin, y, end, y), colour("ver"), 3.0)
        painter.setPen(QPen(colour("ver"), 2))
        for at, way in ((begin, 1), (end, -1)):
            low = self.height() - 3.0
            painter.drawPolyline(
                [QPointF(at + 4 * way, low), QPointF(at, low), QPointF(at, low - 7), QPointF(at + 4 * way, low - 7)]
            )
        round_bead(painter, QPointF(self.x_of(self.time), y), 6, True)
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        painter.end()

    def _paint_marks(self, painter: QPainter, y: float) -> None:
        step = next((one for one in SECONDS if self.loop.seconds / one <= MARKS_MOST), SECONDS[-1])
        painter.setPen(QPen(colour("strong"), 1))
        for k in range(int(self.loop.seconds / step + 1e-9) + 1):
            x = self.x_of(k * step / self.loop.seconds)
            painter.drawLine(QPointF(x, y + 6), QPointF(x, y + 9))
