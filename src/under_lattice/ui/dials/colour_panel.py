"""The small panel of one colour: its hexadecimal figures, and lightness, strength and hue on threads."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPoint, QRect, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSlider,
    QWidget,
)

from under_lattice.colour.colour import CLEAR, checked, contrast, from_oklch, is_beyond_srgb, to_oklch
from under_lattice.core.errors import InputError
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import Words, tip

PAUSE_MS = 700


class Swatch(QAbstractButton):
    """One colour; crossed out when there is none."""

    def __init__(self, name: str, size: int = 20) -> None:
        super().__init__()
        self.value = ""
        self.setAccessibleName(name)
        self.setFixedSize(size + 4, size + 4)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(24, 24)

    def show_value(self, value: str) -> None:
        """Show a colour."""
        self.value = value
        words = "clear" if value == CLEAR else value or "none"
        self.setToolTip(words)
        self.setAccessibleDescription(words)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(2.5, 2.5, -2.5, -2.5)
        painter.setPen(QPen(colour("strong"), 1))
        seen = self.value not in ("", CLEAR)
        painter.setBrush(QColor(self.value) if seen else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 2, 2)
        if not seen:
            painter.drawLine(box.bottomLeft(), box.topRight())
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        painter.end()


class Pairs(QWidget):
    """The colour on each of those it will stand beside, large, with the contrast of the two (WCAG 2.2)."""

    SIDE, WORDS = 38, 16

    def __init__(self, others: Sequence[str]) -> None:
        super().__init__()
        self.others = [one for one in dict.fromkeys(others) if one not in ("", CLEAR)][:6]
        self.value = "#808080"
        self.setFixedSize(px(self.SIDE + 4) * len(self.others), px(self.SIDE + self.WORDS))
        if not self.others:
            self.hide()

    def show_value(self, value: str) -> None:
        """Show a colour beside the others."""
        self.value = value
        said = [f"{contrast(value, one):.1f} to 1 beside {one}" for one in self.others]
        self.setAccessibleName(f"Contrast: {', '.join(said)}")
        self.setToolTip(tip("\n".join(said)))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        side = px(self.SIDE)
        for k, other in enumerate(self.others):
            box = QRectF(k * (side + 4), 0, side, side)
            painter.fillRect(box, QColor(other))
            painter.fillRect(box.adjusted(side / 4, side / 4, -side / 4, -side / 4), QColor(self.value))
            painter.setPen(QPen(colour("strong"), 1))
            painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
            painter.setPen(colour("text2"))
            words = QRectF(box.left(), side, side, px(self.WORDS))
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, f"{contrast(self.value, other):.1f}")
        painter.end()


class ColourPanel(QFrame):
    """Opens under a swatch; every change is taken at once, as one step of undo."""

    changed = Signal(str)
    closed = Signal()
    abandoned = Signal()  # what was changed is to be taken back

    def __init__(self, value: str, extras: list[tuple[str, Callable[[], None]]], beside: Sequence[str] = ()) -> None:
        super().__init__(None, Qt.WindowType.Popup)
        self.setObjectName("popup")
        self.setAccessibleName("Colour")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAttribute(Qt.WidgetAttribute.WA_NoMouseReplay)  # a press outside is gone on with here, on every platform
        self._before = value
        self._value = value or "#808080"
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 12, 12, 12)
        self.before, self.swatch = Swatch("the colour before", 28), Swatch("the colour now", 28)
        self.before.show_value(value)
        self.before.setToolTip("Before; a press brings it back")
        self.before.clicked.connect(self._bring_back)
        self.swatch.setEnabled(False)
        self.hex = QLineEdit(self._value)
        self.hex.setAccessibleName("Colour: figures, a name or rgb()")
        self.hex.setToolTip(
            "For instance #C4694C, #C64, teal, rgb(196, 105, 76), hsl(15 50% 53%), hsb(15, 61%, 77%), oklch(60% 0.12 40)"
        )
        self.hex.textEdited.connect(self._typed)
        self.hex.returnPressed.connect(self.close)
        self.error = Words("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        self.error.hide()
        pair = QHBoxLayout()
        pair.setSpacing(0)
        pair.addWidget(self.before)
        pair.addWidget(self.swatch)
        grid.addLayout(pair, 0, 0)
        grid.addWidget(self.hex, 0, 1)
        grid.addWidget(self.error, 1, 0, 1, 2)
        self.sliders: list[QSlider] = []
        for row, (words, most) in enumerate((("Lightness", 1000), ("Chroma", 370), ("Hue", 3600))):
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, most)
            slider.setFixedWidth(px(180))
            slider.setAccessibleName(words)
            slider.valueChanged.connect(self._slid)
            self.sliders.append(slider)
            grid.addWidget(Words(words), row + 2, 0)
            grid.addWidget(slider, row + 2, 1)
        buttons = QHBoxLayout()
        for words, act in extras:
            button = QPushButton(words)
            button.clicked.connect(lambda _=False, a=act: (a(), self.close()))
            buttons.addWidget(button)
        self.pairs = Pairs(beside)
        grid.addWidget(self.pairs, 5, 0, 1, 2)
        grid.addLayout(buttons, 6, 0, 1, 2)
        self._pause = QTimer(self, singleShot=True, interval=PAUSE_MS)
        self._pause.timeout.connect(lambda: self._say(self.error.text()))
        self._show(sliders=True)

    def _bring_back(self) -> None:
        self._value = self._before or self._value
        self._show(sliders=True)
        self.hex.setText(self._value)
        self.changed.emit(self._before)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.close()
        elif event.key() == Qt.Key.Key_Escape:
            self.abandoned.emit()
            self.close()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.rect().contains(event.position().toPoint()):
            super().mousePressEvent(event)
            return
        self.close()  # a press on another swatch goes on to that
        other = QApplication.widgetAt(event.globalPosition().toPoint())
        if isinstance(other, Swatch):
            QTimer.singleShot(0, other, other.click)

    def _show(self, sliders: bool) -> None:
        self.swatch.show_value(self._value)
        self.pairs.show_value(self._value)
        if sliders:
            lightness, chroma, hue = to_oklch(self._value)
            for slider, value in zip(self.sliders, (lightness * 1000, chroma * 1000, hue * 10), strict=True):
                slider.blockSignals(True)
                slider.setValue(round(value))
                slider.blockSignals(False)
        else:
            self.hex.setText(self._value)

    def _typed(self, text: str) -> None:
        try:
            self._value = checked(text.strip())
        except InputError as error:
            self.error.setText(error.message)
            self._pause.start()
            return
        self._pause.stop()
        self._say(f"beyond what sRGB shows: its chroma is lowered, {self._value}" if is_beyond_srgb(text) else "")
        self._show(sliders=True)
        self.changed.emit(self._value)

    def _say(self, sentence: str) -> None:
        """Say something of what is typed, with room for it, or nothing."""
        self.error.setText(sentence)
        self.error.setVisible(bool(sentence))
        fit_on_screen(self, self.screen().availableGeometry())

    def _slid(self) -> None:
        lightness, chroma, hue = (slider.value() for slider in self.sliders)
        self._value = from_oklch(lightness / 1000, chroma / 1000, hue / 10)
        self._show(sliders=False)
        self.changed.emit(self._value)

    def closeEvent(self, event: object) -> None:
        self.closed.emit()
        super().closeEvent(event)  # type: ignore[arg-type]

    def open_under(self, anchor: QWidget) -> None:
        """Show the panel under a widget, on the screen."""
        open_under(self, anchor)
        self.hex.setFocus()
        self.hex.selectAll()


def open_under(panel: QWidget, anchor: QWidget) -> None:
    """Show a panel under a widget, as one of its window's, kept on the screen."""
    panel.setParent(anchor.window(), Qt.WindowType.Popup)
    panel.move(anchor.mapToGlobal(QPoint(0, anchor.height() + 2)))
    fit_on_screen(panel, anchor.screen().availableGeometry())
    panel.show()


def fit_on_screen(panel: QWidget, screen: QRect) -> None:
    """Give a panel the size it wants and move it no further than needed to be whole on the screen."""
    panel.adjustSize()
    x = max(screen.left(), min(panel.x(), screen.right() - panel.width()))
    y = max(screen.top(), min(panel.y(), screen.bottom() - panel.height()))
    panel.move(x, y)
