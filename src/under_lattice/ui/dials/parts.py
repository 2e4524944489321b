"""Small parts of a dial row: slider, lock, label that scrubs, glyph segments, nudge row."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QMimeData, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QAccessible, QDrag, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from under_lattice.core.units import short
from under_lattice.rules.findings import NoEffect
from under_lattice.ui.look.glyphs import draw_glyph
from under_lattice.ui.look.thread import draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import Words, on_button, tip


class ThreadSlider(QWidget):
    """A bead on a thread; the field beside it takes the keys."""

    moved = Signal(float)
    begun = Signal()
    ended = Signal()
    spoken_role = QAccessible.Role.Slider

    def __init__(self, low: float, high: float, name: str) -> None:
        super().__init__()
        self.low, self.high, self.value, self.focused = low, high, low, False
        self.setFixedSize(px(78), px(24))
        self.setAccessibleName(f"{name}, slider")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def spoken_value(self) -> str:
        """Return where the bead is, and from where to where the thread goes."""
        return f"{short(self.value)}, from {short(self.low)} to {short(self.high)}".replace("-", "\u2212")

    def show_value(self, value: float) -> None:
        """Put the bead at a value; past the ends it rests there."""
        self.value = value
        self.update()

    def _x(self) -> float:
        share = (self.value - self.low) / ((self.high - self.low) or 1.0)
        return 8 + min(max(share, 0.0), 1.0) * (self.width() - 16)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y, x = 9.0, self._x()
        on = self.isEnabled()
        draw_thread(painter, straight(6, y, self.width() - 6, y), colour("strong" if on else "line"), 1)
        painter.setPen(QPen(colour("strong" if on else "line"), 1))
        for k in range(9):
            at = 6 + k * (self.width() - 12) / 8
            painter.drawLine(QPointF(at, 17), QPointF(at, 20))
        if on:
            draw_thread(painter, straight(6, y, x, y))
        round_bead(painter, QPointF(x, y), 6, self.focused and on, colour("ver" if on else "line"), colour("open"))
        painter.end()

    def _to(self, x: float) -> None:
        share = min(max((x - 8) / (self.width() - 16), 0.0), 1.0)
        self.moved.emit(self.low + share * (self.high - self.low))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self.begun.emit()
            self._to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._to(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self.ended.emit()


class Lock(QAbstractButton):
    """A small lock: locked numbers are left alone by variations; by keys it is L in the row."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setFixedSize(px(24), px(24))
        self.setAccessibleName(f"Lock {name}")
        self.setToolTip("Lock (L): variations leave this number alone; typing still may change it")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.sign = ""  # of the axis of the test strip that steps the number: stands in place of the lock

    def show_sign(self, sign: str) -> None:
        """Show on which axis of the test strip its number is, or the lock again."""
        if sign != self.sign:
            self.sign = sign
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(24, 24)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        closed = self.isChecked()
        if self.sign:
            painter.setPen(colour("ver"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.sign)
            painter.end()
            return
        painter.setPen(QPen(colour("text" if closed else "strong"), 1.4))
        painter.setBrush(colour("text") if closed else Qt.BrushStyle.NoBrush)
        painter.translate(3, 0)
        painter.drawRect(QRectF(4.5, 11.5, 9, 7))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        lift = 0.0 if closed else -1.5
        painter.drawArc(QRectF(6, 6.5 + lift, 6, 9), 0 if closed else -20 * 16, 180 * 16)
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRoundedRect(QRectF(-1, 2, 20, 20), 3, 3)
        painter.end()


UNFOLD_WIDTH = 24


class UnfoldButton(QAbstractButton):
    """A small arrow that unfolds one row into two."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setFixedSize(px(UNFOLD_WIDTH), px(24))
        self.setAccessibleName(name)
        self.setToolTip(tip(name))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour("text" if self.underMouse() else "strong"), 1.6))
        painter.drawPolyline([QPointF(10, 8), QPointF(14, 12), QPointF(10, 16)])
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRoundedRect(QRectF(2, 2, 20, 20), 3, 3)
        painter.end()


OUT = 22  # px out of its row from which a dial is carried


class ScrubLabel(Words):
    """A label that scrubs when dragged and resets on a double click."""

    scrubbed = Signal(float)
    begun = Signal()
    ended = Signal()
    abandoned = Signal()  # what was scrubbed is to be taken back
    reset = Signal()

    def __init__(self, text: str, scrubs: bool = True) -> None:
        super().__init__(text)
        self.scrubs = scrubs
        self._from: float | None = None
        self._pressed = QPointF()
        self.carries: Callable[[], QMimeData | None] = lambda: None  # what is carried when it is dragged out of its row
        if scrubs:
            self.setCursor(Qt.CursorShape.SizeHorCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed = event.position()
        if self.scrubs and event.button() == Qt.MouseButton.LeftButton:
            self._from = event.position().x()
            self.begun.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        away = event.position() - self._pressed
        out = abs(away.y()) > OUT or (not self.scrubs and abs(away.x()) > OUT)
        if out and event.buttons() & Qt.MouseButton.LeftButton and (data := self.carries()) is not None:
            self._carry(data)
        elif self._from is not None:
            self.scrubbed.emit((event.position().x() - self._from) / 4)

    def _carry(self, data: QMimeData) -> None:
        """Carry its dial out of the row; what was scrubbed on the way is taken back."""
        if self._from is not None:
            self._from = None
            self.abandoned.emit()
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        drag.exec(Qt.DropAction.CopyAction)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            self._from = None
            self.ended.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.reset.emit()


class GlyphButton(QPushButton):
    """A checkable button that shows a drawn glyph."""

    def __init__(self, glyph: str, name: str, width: int = 25, height: int = 24) -> None:
        super().__init__()
        self.glyph = glyph
        self.setCheckable(True)
        self.setFixedSize(px(width), px(height))
        self.setAccessibleName(name)
        self.setToolTip(tip(name))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(0.5, 0.5, self.width() - 1, self.height() - 1)
        painter.setPen(QPen(colour("strong"), 1))
        hover = self.underMouse() and self.isEnabled()
        painter.setBrush(colour("ver") if self.isChecked() else colour("hover" if hover else "field"))
        painter.drawRoundedRect(box, 3, 3)
        draw_glyph(
            painter, self.glyph, box.center(), colour("verink" if self.isChecked() else "text" if self.isEnabled() else "dis")
        )
        if self.hasFocus():
            painter.setPen(QPen(colour("text" if self.isChecked() else "ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(1.5, 1.5, -1.5, -1.5), 2, 2)
        painter.end()


ROOM = 182  # px beside a label, for all glyphs of a row


class Segments(QWidget):
    """Glyphs side by side, one of them on."""

    chosen = Signal(str)

    def __init__(self, options: tuple[str, ...], name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self._group = QButtonGroup(self)
        self._buttons: dict[str, GlyphButton] = {}
        for option in options:
            button = GlyphButton(option, option, max(24, min(25, ROOM // len(options))))
            self._group.addButton(button)
            self._buttons[option] = button
            button.clicked.connect(lambda _=False, o=option: self.chosen.emit(o))
            row.addWidget(button)

    def show_value(self, value: str) -> None:
        """Turn on one option."""
        if value in self._buttons:
            self._buttons[value].setChecked(True)


class NoEffectLine(QWidget):
    """Why a dial changes nothing now, and a press that gives it an effect."""

    cured = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        lines = QVBoxLayout(self)
        lines.setContentsMargins(0, 0, 0, 4)
        lines.setSpacing(0)
        self.words, self.cure = Words(""), QPushButton("")
        self.words.setObjectName("hint")
        self.words.setWordWrap(True)
        self.cure.setObjectName("link")
        self.cure.setCursor(Qt.CursorShape.PointingHandCursor)
        self.cure.clicked.connect(lambda: self.cured.emit(self._found))
        self._found: NoEffect | None = None
        lines.addWidget(self.words)
        lines.addWidget(self.cure)

    def show_found(self, found: NoEffect | None) -> None:
        """Show what was found, or nothing."""
        self._found = found
        self.setVisible(found is not None)
        if found is not None:
            self.words.setText(found.words)
            self.cure.setText(on_button(found.cure))
            self.cure.setVisible(bool(found.cure))


class NudgeRow(QWidget):
    """Step choice, minus and plus, under the focused dial."""

    nudged = Signal(int)
    size_chosen = Signal(int)

    def __init__(self, steps: tuple[str, ...], chosen: int, name: str) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 22, 2)
        row.setSpacing(0)
        label = Words("nudge by")
        label.setObjectName("small")
        label.setFixedWidth(px(80))
        row.addWidget(label)
        self._sizes: list[QPushButton] = []
        for k, text in enumerate(steps):
            button = self._button(text, f"Step {text}, {name}", lambda _=False, k=k: self.size_chosen.emit(k), 34)
            button.setCheckable(True)
            self._sizes.append(button)
            row.addWidget(button)
        row.addStretch(1)
        for text, direction, word in (("−", -1, "less"), ("+", 1, "more")):  # noqa: RUF001
            row.addSpacing(4)
            row.addWidget(self._button(text, f"{name}, {word}", lambda _=False, d=direction: self.nudged.emit(d), 28))
        self._name = name
        self.choose(chosen)

    def show_steps(self, steps: tuple[str, ...]) -> None:
        """Show other steps."""
        for button, text in zip(self._sizes, steps, strict=True):
            if button.text() != text:
                button.setText(text)
                button.setAccessibleName(f"Step {text}, {self._name}")

    def choose(self, at: int) -> None:
        """Show which step is on."""
        for k, button in enumerate(self._sizes):
            button.setChecked(k == at)

    def _button(self, text: str, name: str, act: Callable[..., None], width: int) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("nudge")
        button.setAccessibleName(name)
        button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        button.setFixedSize(px(width), px(24))
        button.clicked.connect(act)
        return button
