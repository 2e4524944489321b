"""Another version compared with the work on the sheet: wiped across by a bead on a thread, flickered, or their difference."""

from __future__ import annotations

from typing import Any, Literal, Protocol

import numpy as np
from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QPainter, QPen

from under_lattice.scene.tree import View
from under_lattice.ui.look.thread import draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import colour

How = Literal["wipe", "difference"]
FLICKER_KEY = Qt.Key.Key_Backslash
REACH, BEAD, STEP = 14.0, 9.0, 0.02
STRETCH = 3.0  # times a difference is shown as large as it is


class Shown(Protocol):
    """A widget that shows a picture of the sheet in a view."""

    picture: QImage | None
    picture_view: View | None

    def page(self) -> QRectF:
        """Return where the sheet lies in the widget."""

    def place_of(self, picture: QImage, view: View) -> QRectF:
        """Return where a picture of a view lies as the sheet is seen now."""

    def rect(self) -> Any:
        """Return all of the widget."""

    def update(self) -> None:
        """Paint it anew."""

    def setAccessibleDescription(self, words: str) -> None:
        """Describe it to those who do not see it."""


class Compare(QObject):
    """What a canvas shows beside its own picture, and how; nothing while `name` is empty."""

    ended = Signal()
    changed = Signal()

    def __init__(self, canvas: Shown) -> None:
        super().__init__(canvas if isinstance(canvas, QObject) else None)  # hears nothing after it is gone
        self.canvas = canvas
        self.name = ""
        self.how: How = "wipe"
        self.share = 0.5  # of the sheet's width that shows the other
        self.flickered = self.held = False
        self.picture: QImage | None = None
        self.view: View | None = None
        self._difference: tuple[int, int, QImage] | None = None

    @property
    def on(self) -> bool:
        """Whether something is compared."""
        return bool(self.name)

    def begin(self, name: str, how: How = "wipe") -> None:
        """Compare with a version of that name; its picture is shown once it comes."""
        self.name, self.how, self.picture, self.flickered = name, how, None, False
        self._told()

    def end(self) -> None:
        """Show the work alone again."""
        if self.on:
            self.name, self.picture, self._difference, self.flickered, self.held = "", None, None, False, False
            self.ended.emit()
            self._told()

    def show_picture(self, picture: QImage, view: View) -> None:
        """Take over a painted view of the other."""
        self.picture, self.view = picture, view
        self.canvas.update()

    def _told(self) -> None:
        self.canvas.setAccessibleDescription(self.words())
        self.changed.emit()
        self.canvas.update()

    def words(self) -> str:
        """Say what is compared, for those who do not see it."""
        if not self.on:
            return ""
        part = "their difference" if self.how == "difference" else f"{self.name} on the left {self.share:.0%} of the sheet"
        return f"compared with {self.name}: {part}"

    # -- painting --------------------------------------------------------------------------------
    def paint_picture(self, painter: QPainter) -> None:
        """Paint the other version over the canvas's picture, as far as it is wiped."""
        if not self.on or self.picture is None or self.view is None:
            return
        place = self.canvas.place_of(self.picture, self.view)
        painter.save()
        page = self.canvas.page()
        painter.setClipRect(page)
        if self.how == "difference" and not self.flickered:
            painter.drawImage(place, self._their_difference() or self.picture)
        else:
            width = page.width() if self.flickered else page.width() * self.share
            painter.setClipRect(QRectF(page.left(), page.top(), width, page.height()))
            painter.drawImage(place, self.picture)
        painter.restore()

    def _their_difference(self) -> QImage | None:
        """The difference of both pictures, stretched so that it is seen; none while they are not of one view."""
        own = self.canvas.picture
        if own is None or self.picture is None or self.canvas.picture_view != self.view or own.size() != self.picture.size():
            return None
        key = (own.cacheKey(), self.picture.cacheKey())
        if self._difference is None or self._difference[:2] != key:
            ones = [_bytes_of(image).astype(np.int16)[..., :3] for image in (own, self.picture)]
            apart = np.clip(np.abs(ones[0] - ones[1]) * STRETCH, 0, 255).astype(np.uint8)
            data = np.ascontiguousarray(np.concatenate([apart, np.full((*apart.shape[:2], 1), 255, np.uint8)], -1))
            high, wide = data.shape[:2]
            self._difference = (*key, QImage(data.data, wide, high, wide * 4, QImage.Format.Format_RGBA8888).copy())
        return self._difference[2]

    def paint_thread(self, painter: QPainter) -> None:
        """Paint the thread with its bead, and the names of both sides."""
        if not self.on:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        page = self.canvas.page()
        shown = page.intersected(QRectF(self.canvas.rect()))
        if self.how == "wipe" and not self.flickered:
            x = self._x()
            thread = straight(x, shown.top(), x, shown.bottom())
            draw_thread(painter, thread, QColor("#FFFFFF"), 5.0)
            draw_thread(painter, thread)
            round_bead(painter, self._bead(), BEAD + 1.5, True, QColor("#FFFFFF"), QColor("#FFFFFF"))
            round_bead(painter, self._bead(), BEAD, True)
        top = max(shown.top(), 0.0) + 10
        left = shown.left() + 10 if self.how == "wipe" or self.flickered else shown.center().x()
        word = self.name if self.how == "wipe" or self.flickered else f"difference from {self.name}"
        paint_word(painter, word, QPointF(left, top), 0.0 if self.how == "wipe" or self.flickered else 0.5)
        if self.how == "wipe" and not self.flickered:
            paint_word(painter, "now", QPointF(shown.right() - 10, top), 1.0)

    def _x(self) -> float:
        page = self.canvas.page()
        return page.left() + page.width() * self.share

    def _bead(self) -> QPointF:
        shown = self.canvas.page().intersected(QRectF(self.canvas.rect()))
        return QPointF(self._x(), shown.center().y())

    # -- hands -----------------------------------------------------------------------------------
    def grab(self, at: QPointF) -> bool:
        """Take hold of the thread, if it is under a point."""
        self.held = self.on and self.how == "wipe" and abs(at.x() - self._x()) <= REACH
        return self.held

    def drag(self, at: QPointF) -> None:
        """Draw the thread to a point."""
        page = self.canvas.page()
        self._wipe((at.x() - page.left()) / max(page.width(), 1.0))

    def let_go(self) -> None:
        """Let go of the thread."""
        self.held = False

    def _wipe(self, share: float) -> None:
        self.share = min(max(share, 0.0), 1.0)
        self._told()

    def takes_key(self, event: QKeyEvent) -> bool:
        """Do what a key means here; tells whether it means anything."""
        down, key = event.type() == QEvent.Type.KeyPress, event.key()
        if not self.on:
            return False
        if key == FLICKER_KEY:
            if not event.isAutoRepeat():
                self.flickered = down
                self.canvas.update()
            return True
        if not down:
            return False
        if key == Qt.Key.Key_Escape:
            self.end()
        elif self.how == "wipe" and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._wipe(self.share + (STEP if key == Qt.Key.Key_Right else -STEP))
        else:
            return False
        return True


def paint_word(painter: QPainter, words: str, at: QPointF, share: float = 0.0) -> None:
    """Paint a label on the sheet: a point of the widget is at its left, its middle or its right by `share` 0..1."""
    wide = painter.fontMetrics().horizontalAdvance(words) + 14
    box = QRectF(at.x() - wide * share, at.y(), wide, 22)
    painter.setPen(QPen(colour("ver"), 1))
    painter.setBrush(colour("tag"))
    painter.drawRoundedRect(box, 2, 2)
    painter.setPen(colour("text"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _bytes_of(image: QImage) -> np.ndarray:
    """The pixels (H, W, 4) of an image in bytes."""
    return np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine() // 4, 4)[:, : image.width()]
