"""A number field: live, takes arithmetic and units, marks what is wrong, nudges by keys and wheel."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QLocale, QRect, Qt, QTimer, Signal
from PySide6.QtGui import QAccessible, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QApplication, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.units import in_groups, is_relative, typed
from under_lattice.declare.dials import NumberDial
from under_lattice.ui.dials.line import UNDO, Line
from under_lattice.ui.look.numerals import decimal_sign
from under_lattice.ui.look.tokens import colour, px
from under_lattice.vary.formula import read_formula

PAUSE_MS = 700
ROOM = 14  # px beside the text: frame, padding, cursor
ROW_KEYS = (Qt.Key.Key_L, Qt.Key.Key_B)  # lock, a bead over the loop: letters of no unit
WIDEST = 92  # px of a field that still shows its unit


def shown(value: float, dial: NumberDial) -> str:
    """Return a number as a field shows it, with a true minus sign."""
    digits = dial.digits
    while digits < 4 and abs(round(value, digits) - value) > 1e-9:
        digits += 1
    digits = dial.digits if abs(round(value, 4) - value) > 1e-9 and abs(value) > 1 else digits
    return f"{value:.{digits}f}".replace("-", "−").replace(".", QLocale().decimalPoint())  # noqa: RUF001


def written(number: str) -> str:
    """Return a number as the desktop's language writes it, with a true minus sign."""
    return number.replace("-", "−").replace(".", QLocale().decimalPoint())  # noqa: RUF001


def shown_short(value: float, digits: int) -> str:
    """Return a number with so many decimals and a true minus sign."""
    return written(f"{value:.{digits}f}")


def seen_step(dial: NumberDial, scale: float) -> float:
    """Return the step of a dial, of a length ten, a hundred … times as large until it is seen: 1 px at `scale` px per unit."""
    step = dial.step
    while dial.kind == "length" and 0 < step * scale < 1 and step < dial.most / 10:
        step *= 10
    return step


class NumberField(Line):
    """One number with its unit.

    `read` turns text into a number; it may refuse with a sentence. `entered` carries each good number while it is typed. A text
    that is refused in the end takes back what its beginning may have meant: `abandoned` asks for the number of before the visit,
    and where nobody brings it, `entered` carries it.
    """

    entered = Signal(float)
    refused = Signal(str)  # the sentence to show, or nothing
    visited = Signal()
    left = Signal()
    abandoned = Signal()
    nudged = Signal(int, int)  # direction, size of step: -1 smaller, 0, 1 larger, 2 larger still
    formula_wanted = Signal(str)  # what was typed after a sign of equality
    meant = Signal(str)  # what a part or a change of the number is, or nothing
    spoken_role = QAccessible.Role.SpinBox

    def __init__(self, dial: NumberDial, unit: str, resolution: float, name: str, parent: QWidget | None = None) -> None:
        super().__init__(self._refused, parent)
        self.dial, self.unit, self.resolution = dial, unit, resolution
        self.value = self._before = 0.0
        self.extra_check: Callable[[float], None] = lambda _: None
        self.scale: Callable[[], float] = lambda: 0.0  # px of the screen for each unit of a length
        self.takes_formulas = False
        self._told_meaning = False
        self._twice = -1e9  # ms, when it was pressed twice
        self._pressed = False  # by the press that brought the focus
        self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.setAccessibleName(name)
        self.setToolTip(dial.words)
        self._pause = QTimer(self, singleShot=True, interval=PAUSE_MS)
        self._pause.timeout.connect(self._mark)
        self.textEdited.connect(self._typed)
        self.returnPressed.connect(self._settle)
        self._least = 0
        self.textChanged.connect(self._fit)
        self._fit()

    def spoken_value(self) -> str:
        """Return the number with its unit and the range that is allowed."""
        return f"{self.text()}{'' if self.unit == '°' else ' '}{self.unit}".strip() + f", {self.dial.allowed(self.unit)}"

    def set_unit(self, unit: str, resolution: float) -> None:
        """Show and read numbers in another unit."""
        self.unit, self.resolution = unit, resolution
        self._fit()
        self.update()

    def keep_whole(self, least: int) -> None:
        """Be `least` px wide, or wider where the number needs it; of a very long one the unit gives way, what is typed scrolls."""
        self._least = least
        self._fit()

    def _fit(self) -> None:
        wide = self.fontMetrics().horizontalAdvance
        text = wide(self.text()) + ROOM
        self._unit_room = wide(self.unit) + 3 if self.unit and (not self._least or text + wide(self.unit) + 3 <= px(WIDEST)) else 0
        if self.textMargins().right() != self._unit_room:  # or all would be laid out anew
            self.setTextMargins(0, 0, self._unit_room, 0)
        if self._least:
            wanted = text + self._unit_room
            self.setFixedWidth(max(self._least, min(wanted, px(WIDEST)) if self.isModified() else wanted))

    def show_value(self, value: float) -> None:
        """Show a number, unless the person is typing one that means the same."""
        self.value = value
        if not self.isModified():
            self._before = value
        if not (self.isModified() and self._means(value)):
            self._write()
            self._mean_nothing()

    def _means(self, value: float) -> bool:
        try:
            return abs(self.read(self.text()) - value) < 1e-9
        except InputError:
            return self.hasFocus()  # still being typed; what was last good stays in force

    def _write(self) -> None:
        text = shown(self.value, self.dial)
        if self.text() != text:
            self.setText(text)
            self._clear_mark()
            if self.hasFocus():  # what comes from elsewhere, such as an undo, is typed over as a whole
                self.selectAll()

    def read(self, text: str) -> float:
        """Return the number a text means.

        Raises
        ------
        InputError
        """
        value = typed(text, self.unit, self.resolution, self._before, decimal_sign())
        value = float(self.dial.check(value))
        self.extra_check(value)
        return value

    def _typed(self, text: str) -> None:
        if text.lstrip().startswith("=") and self.takes_formulas:
            self._write()
            self.setModified(False)
            self.formula_wanted.emit(text.lstrip()[1:].strip())
            return
        try:
            value = self.read(text)
        except InputError:
            self._mean_nothing()  # what its beginning was read as no longer holds
            self._pause.start()
            return
        self._clear_mark()
        self.value = value
        self.entered.emit(value)
        if is_relative(text, self.unit):
            self._tell_meaning(text)
        elif in_groups(text):
            self._told_meaning = True
            self.meant.emit(f"read as {self._said(self.value)}")
        else:
            self._mean_nothing()

    def _tell_meaning(self, text: str) -> None:
        """Say what a text in per cent is taken of."""
        self._told_meaning = True
        before, after, said = self._said(self._before), self._said(self.value), text.strip().replace("-", "−")  # noqa: RUF001
        ratio = self.unit == "%"
        self.meant.emit(f"{before} {said[0]} {said[1:].strip()} is {after}" if ratio else f"{said} of {before} is {after}")

    def _said(self, value: float) -> str:
        """A number in a sentence, which is written as the desktop does where it is shown."""
        return f"{shown(value, self.dial).replace(decimal_sign(), '.')} {self.unit}".rstrip()

    def _mean_nothing(self) -> None:
        if self._told_meaning:
            self._told_meaning = False
            self.meant.emit("")

    def _mark(self, leaving: bool = False) -> None:
        """Say why a text is refused; a field that is left shows the number that holds again."""
        try:
            self.read(self.text())
        except InputError as error:
            allowed, plain = self.dial.allowed(self.unit), self.dial.allowed()
            said = f"a formula begins with =, as in = {self.text().strip()}" if self._is_formula() else error.message
            sentence = said.replace(plain, allowed) if plain in said else f"{said}; {allowed}"
            self._go_back()
            if leaving:
                self._write()
            else:
                self._set_wrong(True)
            self.refused.emit(sentence[0].upper() + sentence[1:])

    def _is_formula(self) -> bool:
        """Tell whether the text would be a formula, in a field that takes one."""
        try:
            return self.takes_formulas and bool(read_formula(self.text()).names)
        except InputError:
            return False

    def _go_back(self) -> None:
        """Let go of what the beginning of a text meant."""
        if self.value != self._before:
            self.abandoned.emit()
        if self.value != self._before:
            self.value = self._before
            self.entered.emit(self.value)

    def _refused(self, text: str) -> bool:
        try:
            self.read(text)
        except InputError:
            return True
        return False

    def _clear_mark(self) -> None:
        self._pause.stop()
        self._set_wrong(False)
        self.refused.emit("")

    def _set_wrong(self, wrong: bool) -> None:
        if bool(self.property("wrong")) != wrong:
            self.setProperty("wrong", wrong)
            self.style().unpolish(self)
            self.style().polish(self)

    def _settle(self) -> None:
        try:
            self.value = self.read(self.text())
        except InputError:
            self._mark()
            return
        self._before = self.value
        self.setModified(False)
        self._write()
        self._mean_nothing()
        self.selectAll()
        self.left.emit()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self._before = self.value
        self.visited.emit()
        self._pressed = event.reason() == Qt.FocusReason.MouseFocusReason
        if event.reason() not in (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason):
            self.selectAll()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        third = event.timestamp() - self._twice < QApplication.doubleClickInterval()
        self._pressed = self._pressed or third or not self.hasFocus()  # in a window that is not active yet it comes later
        super().mousePressEvent(event)
        if self._pressed:
            self.selectAll()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not self._pressed:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        self._pressed = False

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._twice = event.timestamp()
        self.selectAll()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        try:
            self.value = self.read(self.text()) if self.isModified() else self.value
        except InputError:
            self._mark(leaving=True)
        else:
            self.setModified(False)
            self._write()
        self._mean_nothing()
        self.left.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, held = event.key(), event.modifiers()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            more, less = bool(held & Qt.KeyboardModifier.ShiftModifier), bool(held & Qt.KeyboardModifier.ControlModifier)
            size = 2 if more and less else more - less
            self.nudge(1 if key == Qt.Key.Key_Up else -1, size)
        elif not held and (key in ROW_KEYS or (key == Qt.Key.Key_V and self.dial.vary)) and not self.half_typed():
            event.ignore()  # no number has these; the row takes them
        elif key == Qt.Key.Key_Escape or (event.matches(UNDO) and self.half_typed()):  # the number of before, which frees nothing
            self.setModified(False)
            self.abandoned.emit()
            self._write()
            self._clear_mark()
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.hasFocus() and event.angleDelta().y():
            self.nudge(1 if event.angleDelta().y() > 0 else -1, 0)
            event.accept()
        else:
            event.ignore()

    def nudge(self, direction: int, size: int) -> None:
        """Ask for one step up or down."""
        self.setModified(False)
        self._clear_mark()  # of what was typed before
        self.nudged.emit(direction, size)

    def step_seen(self, direction: int, size: int) -> None:
        """Go one step that can be seen up or down, ten times as far for each size."""
        self.step_by(direction * 10.0**size * seen_step(self.dial, self.scale()) / self.dial.step)

    def step_by(self, steps: float) -> None:
        """Go some steps up or down, within the range, and say so."""
        value = min(max(self.value + steps * self.dial.step, self.dial.least), self.dial.most)
        self.setModified(False)
        self.value = round(value, 9)
        self.setText(shown(self.value, self.dial))
        self.entered.emit(self.value)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self._unit_room:
            painter = QPainter(self)
            painter.setPen(colour("text2" if self.isEnabled() else "dis"))
            painter.drawText(
                QRect(0, 0, self.width() - 6, self.height()), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.unit
            )
            painter.end()
