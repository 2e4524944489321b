"""One thing that moves: its name, and its thread with a bead for each value that is hung."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from under_lattice.ui.look.thread import draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.loop.time_thread import PAD
from under_lattice.vary.motion import Motion
from under_lattice.work.model import Loop

HIGH, REACH, CURVE = 28, 9.0, 60  # px, px, points of a course that is drawn


class MotionThread(QWidget):
    """Press a bead to choose it, Shift for several; drag moves them, with Ctrl a copy, with Alt they are stretched from the first.

    A double press on the thread hangs the value that is there. Keys: left and right choose, with Alt they move by a picture,
    Insert hangs one at the time shown, Delete takes off, Enter goes to the value.
    """

    chose = Signal()
    moved = Signal(float, bool, bool)  # by so much of the loop, as a copy, stretched
    let_go = Signal(bool)  # kept
    hung = Signal(float)
    dropped = Signal()
    opened = Signal()
    menu_wanted = Signal(object)

    def __init__(self, motion: Motion, name: str, ink_of: Callable[[object], QColor | None]) -> None:
        super().__init__()
        self.motion, self.loop, self.time = motion, Loop(), 0.0
        self.chosen: set[int] = set()
        self.in_hand = False
        self._ink_of = ink_of
        self._from: float | None = None
        self._pulled = False
        self.setFixedHeight(px(HIGH))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{name}, over the loop")
        self.setToolTip(" ".join((MotionThread.__doc__ or "").split()))

    def show_motion(self, motion: Motion, loop: Loop, time: float, in_hand: bool) -> None:
        """Show a motion at a time."""
        self.motion, self.loop, self.time, self.in_hand = motion, loop, time, in_hand
        self.chosen = {k for k in self.chosen if k < len(motion.beads)} if in_hand else set()
        which = ", ".join(str(k + 1) for k in sorted(self.chosen)) or "none"
        self.setAccessibleDescription(f"{len(motion.beads)} values, chosen: {which}")
        self.update()

    def x_of(self, time: float) -> float:
        """Return where a time is drawn, in px."""
        return PAD + time * (self.width() - 2 * PAD)

    def bead(self, k: int) -> QPointF:
        """Return where a bead is drawn."""
        return QPointF(self.x_of(self.motion.beads[k].time), self.height() / 2)

    def time_at(self, x: float) -> float:
        """Return the time, 0..1, at a place in px, on a whole picture."""
        share = min(max((x - PAD) / max(self.width() - 2 * PAD, 1.0), 0.0), 1.0)
        return round(share * self.loop.pictures) / self.loop.pictures

    def _near(self, at: QPointF) -> int:
        near = [(abs(self.bead(k).x() - at.x()), k) for k in range(len(self.motion.beads))]
        away, k = min(near)
        return k if away <= REACH else -1

    def choose(self, k: int, more: bool = False) -> None:
        """Choose a bead, with `more` besides those that are."""
        if not more:
            self.chosen = {k}
        elif k in self.chosen and len(self.chosen) > 1:
            self.chosen.discard(k)
        else:
            self.chosen.add(k)
        self.chose.emit()
        self.update()

    # -- mouse and keys ---------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        near, shift = self._near(event.position()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if near < 0:
            self.chosen = set() if not shift else self.chosen
            self.chose.emit()
            return
        if shift or near not in self.chosen:
            self.choose(near, shift)
        else:
            self.chose.emit()
        self._from, self._pulled = event.position().x(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is None or not self.chosen:
            return
        if abs(event.position().x() - self._from) > 3:
            self._pulled = True
        if self._pulled:
            held = event.modifiers()
            copy, stretched = bool(held & Qt.KeyboardModifier.ControlModifier), bool(held & Qt.KeyboardModifier.AltModifier)
            self.moved.emit(self.time_at(event.position().x()) - self.time_at(self._from), copy, stretched)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            self._from = None
            self.let_go.emit(True)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self._near(event.position()) < 0:
            self.hung.emit(self.time_at(event.position().x()))
        else:
            self.opened.emit()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.chose.emit()
        self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, held = Qt.Key(event.key()), event.modifiers()
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key, 0)
        if way and held & Qt.KeyboardModifier.AltModifier:
            self.moved.emit(way / self.loop.pictures, False, False)
            self.let_go.emit(True)
        elif way:
            now = min(self.chosen, default=-1 if way > 0 else 0)
            self.choose((now + way) % len(self.motion.beads), bool(held & Qt.KeyboardModifier.ShiftModifier))
        elif key == Qt.Key.Key_Insert:
            self.hung.emit(self.time)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.dropped.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        elif key == Qt.Key.Key_Escape and self._from is not None:
            self._from = None
            self.let_go.emit(False)
        elif key == Qt.Key.Key_Menu:
            self.menu_wanted.emit(self.mapToGlobal(self.rect().center()))
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: object) -> None:
        super().focusInEvent(event)  # type: ignore[arg-type]
        if not self.in_hand:
            self.choose(0)

    # -- paint ------------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.in_hand:
            painter.fillRect(self.rect(), colour("tint"))
        y, on = self.height() / 2, self.motion.on
        draw_thread(painter, straight(self.x_of(0), y, self.x_of(1), y), colour("strong"), 1.0)
        self._paint_course(painter)
        painter.setPen(QPen(colour("ver"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(self.x_of(self.time), 0), QPointF(self.x_of(self.time), self.height()))
        for k, bead in enumerate(self.motion.beads):
            ink = self._ink_of(bead.value)
            round_bead(
                painter, self.bead(k), 6 if k in self.chosen else 5, k in self.chosen and on, colour("saf"), ink or colour("field")
            )
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        painter.end()

    def _paint_course(self, painter: QPainter) -> None:
        """How a number goes, low at its least and high at its greatest value."""
        values = [bead.value for bead in self.motion.beads]
        if not self.motion.on or not all(isinstance(value, (int, float)) for value in values):
            return
        times = np.linspace(0.0, 1.0, CURVE * 4 + 1)
        times[-1] = 1.0 - 1e-9 if self.loop.closed and self.motion.gained == 0 else 1.0
        heights = self.motion.numbers(times, self.loop.closed)
        span = float(np.ptp(heights))
        if span <= 0:
            return
        shares = (heights - heights.min()) / span
        path = QPainterPath()
        for k, (time, share) in enumerate(zip(times, shares, strict=True)):
            at = QPointF(self.x_of(float(time)), self.height() - 5 - float(share) * (self.height() - 10))
            if k:
                path.lineTo(at)
            else:
                path.moveTo(at)
        draw_thread(painter, path, colour("safg"), 1.2)
