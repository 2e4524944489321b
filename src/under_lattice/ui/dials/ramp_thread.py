"""A ramp as a thread with beads: its colours above, a bead for each stop, and between two a small sign where halfway lies."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from under_lattice.colour.ramp import Ramp, Stop
from under_lattice.colour.ramp_text import STOPS_MOST
from under_lattice.ui.look.thread import draw_thread, straight
from under_lattice.ui.look.tokens import colour, px

Stops = tuple[Stop, ...]
PAD, REACH, SIGN = 9.0, 12.0, 8.0
OFF = 30.0  # px beside the thread, from which on a bead that is dragged is off it
STEP, FAR, LEAST = 0.01, 0.1, 0.002
CHECK = 5  # px of the squares seen through what is clear


class RampThread(QWidget):
    """Press for one more bead, drag to move, drag off to take away; keys choose, move, add and remove."""

    changed = Signal(object)  # stops, while something is held
    chose = Signal(int)
    opened = Signal(int)  # the colour of a bead is wanted
    let_go = Signal()

    def __init__(self, name: str) -> None:
        super().__init__()
        self.stops: Stops = (Stop(0.0, "#000000"), Stop(1.0, "#FFFFFF"))
        self.oklab, self.chosen = False, 0
        self._held, self._middle, self._off = False, False, False
        self.setFixedHeight(px(46))
        self.setMinimumWidth(px(120))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{name}: beads from start to end")
        self.setToolTip(
            "Press for one more colour, drag a bead, drag it off to take it away. Keys: Page up and down choose, arrows move, "
            "Alt with arrows moves halfway, Insert, Delete, Enter for its colour."
        )

    def show_stops(self, stops: Stops, oklab: bool) -> None:
        """Show a ramp."""
        if not self._held:
            self.stops, self.oklab = stops, oklab
            self.chosen = min(self.chosen, len(stops) - 1)
        self.setAccessibleDescription(f"bead {self.chosen + 1} of {len(self.stops)}")
        self.update()

    # -- where things are -----------------------------------------------------------------------
    def x_of(self, place: float) -> float:
        """Return where a place is drawn, in px."""
        return PAD + place * (self.width() - 2 * PAD)

    def bead(self, k: int) -> QPointF:
        """Return where the bead of a stop is drawn."""
        return QPointF(self.x_of(self.stops[k].place), self.height() - px(13))

    def sign(self, k: int) -> QPointF:
        """Return where the sign for halfway between a stop and the next is drawn."""
        one, other = self.stops[k], self.stops[k + 1]
        return QPointF(self.x_of(one.place + one.middle * (other.place - one.place)), self.height() - px(13))

    def _place(self, x: float) -> float:
        return round(min(max((x - PAD) / (self.width() - 2 * PAD), 0.0), 1.0), 4)

    def _near(self, at: QPointF) -> tuple[int, bool]:
        """The stop whose bead, or whose sign, is at a point; -1 for none."""
        beads = [(abs(self.bead(k).x() - at.x()), k, False) for k in range(len(self.stops))]
        signs = (
            [(abs(self.sign(k).x() - at.x()), k, True) for k in range(len(self.stops) - 1)] if at.y() > self.height() / 2 else []
        )
        near = [one for one in beads if one[0] <= REACH] or [one for one in signs if one[0] <= SIGN]
        away = min(near, default=(0.0, -1, False))
        return away[1], away[2]

    # -- changes ---------------------------------------------------------------------------------
    def choose(self, k: int) -> None:
        """Choose a bead."""
        self.chosen = k % len(self.stops)
        self.setAccessibleDescription(f"bead {self.chosen + 1} of {len(self.stops)}")
        self.chose.emit(self.chosen)
        self.update()

    def set_stop(self, k: int, **changes: object) -> None:
        """Change a stop; it stays between its neighbours."""
        stop = self.stops[k]._replace(**changes)  # type: ignore[arg-type]
        low = self.stops[k - 1].place + LEAST if k else 0.0
        high = self.stops[k + 1].place - LEAST if k + 1 < len(self.stops) else 1.0
        stop = stop._replace(place=round(min(max(stop.place, low), max(low, high)), 4))
        self._set((*self.stops[:k], stop, *self.stops[k + 1 :]))

    def add_at(self, place: float) -> bool:
        """Add a stop in the colour that is there; tell whether there was room for one."""
        if len(self.stops) >= STOPS_MOST or any(abs(stop.place - place) < 2 * LEAST for stop in self.stops):
            return False
        row = Ramp(self.stops, oklab=self.oklab).table(1001)[round(place * 1000)].astype(float)
        rgb = np.rint(255 * row[:3] / max(row[3], 1e-9)).clip(0, 255).astype(int) if row[3] > 0 else np.array([128, 128, 128])
        stop = Stop(place, "#{:02X}{:02X}{:02X}".format(*rgb.tolist()), round(float(row[3]), 4))
        stops = tuple(sorted((*self.stops, stop), key=lambda one: one.place))
        self.chosen = stops.index(stop)
        self._set(stops)
        self.chose.emit(self.chosen)
        return True

    def remove(self, k: int) -> None:
        """Take a stop away; two stay."""
        if len(self.stops) > 2:
            self.chosen = max(0, min(self.chosen, len(self.stops) - 2))
            self._set((*self.stops[:k], *self.stops[k + 1 :]))
            self.choose(self.chosen)

    def _set(self, stops: Stops) -> None:
        self.stops = stops
        self.update()
        self.changed.emit(stops)

    # -- mouse and keys ---------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self.let_go.emit()  # what keys did before is a step of its own
        near, self._middle = self._near(event.position())
        if near >= 0:
            self.choose(near)
        elif not self.add_at(self._place(event.position().x())):
            return
        self._held, self._off = True, False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not self._held or self._off:
            return
        at, k = event.position(), self.chosen
        if self._middle:
            one, other = self.stops[k], self.stops[k + 1]
            share = (self._place(at.x()) - one.place) / max(other.place - one.place, 1e-9)
            self.set_stop(k, middle=round(min(max(share, 0.02), 0.98), 3))
        elif not -OFF < at.y() < self.height() + OFF and len(self.stops) > 2:
            self._off = True
            self.remove(k)
        else:
            self.set_stop(k, place=self._place(at.x()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._held = self._middle = False
            self.let_go.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        near, sign = self._near(event.position())
        if near >= 0 and not sign:
            self._held = False
            self.opened.emit(near)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, k, mods = Qt.Key(event.key()), self.chosen, event.modifiers()
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key, 0)
        if way and mods & Qt.KeyboardModifier.AltModifier:
            if k + 1 < len(self.stops):
                self.set_stop(k, middle=round(min(max(self.stops[k].middle + way * 0.05, 0.05), 0.95), 3))
        elif way:
            step = FAR if mods & Qt.KeyboardModifier.ShiftModifier else STEP
            self.set_stop(k, place=self.stops[k].place + way * step)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.choose(k + (1 if key == Qt.Key.Key_PageDown else -1))
        elif key == Qt.Key.Key_Insert:
            other = k + 1 if k + 1 < len(self.stops) else k - 1
            self.add_at(round((self.stops[k].place + self.stops[other].place) / 2, 4))
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove(k)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(k)
        else:
            super().keyPressEvent(event)

    # -- paint ------------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bar = QRectF(PAD, 3, self.width() - 2 * PAD, self.height() - px(31))
        self._paint_bar(painter, bar)
        y = self.bead(0).y()
        draw_thread(painter, straight(PAD, y, self.width() - PAD, y), colour("strong"), 1.4)
        painter.setPen(QPen(colour("strong"), 1))
        painter.setBrush(colour("card"))
        for k in range(len(self.stops) - 1):
            at = self.sign(k)
            painter.drawPolygon(QPolygonF([at + QPointF(*by) for by in ((0, -4), (4, 0), (0, 4), (-4, 0))]))
        for k, stop in enumerate(self.stops):
            seen = QColor(stop.colour)
            seen.setAlphaF(stop.alpha)
            big = k == self.chosen
            painter.setPen(QPen(colour("ver") if big else colour("strong"), 2.4 if big else 1.2))
            painter.setBrush(colour("card"))
            painter.drawEllipse(self.bead(k), 7.0, 7.0)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(seen)
            painter.drawEllipse(self.bead(k), 5.0, 5.0)
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        painter.end()

    def _paint_bar(self, painter: QPainter, bar: QRectF) -> None:
        """The colours of the ramp, over squares where it is clear."""
        painter.fillRect(bar, QColor("#FFFFFF"))
        if any(stop.alpha < 1 for stop in self.stops):
            for column in range(int(bar.width() // CHECK) + 1):
                for row in range(int(bar.height() // CHECK) + 1):
                    if (column + row) % 2:
                        square = QRectF(bar.left() + column * CHECK, bar.top() + row * CHECK, CHECK, CHECK)
                        painter.fillRect(square.intersected(bar), QColor("#B8B8B8"))
        table = np.ascontiguousarray(np.rint(Ramp(self.stops, oklab=self.oklab).table(256) * 255).astype(np.uint8))
        image = QImage(table.data, 256, 1, 1024, QImage.Format.Format_RGBA8888_Premultiplied)
        painter.drawImage(bar, image)
        painter.setPen(QPen(colour("strong"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(bar)
