"""A line of text that leaves the keys of commands to the window, and undo and redo as long as no half-typed text stands in it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QLineEdit, QWidget

EDITS = (Qt.Key.Key_A, Qt.Key.Key_C, Qt.Key.Key_V, Qt.Key.Key_X)  # with Ctrl
STEPS = (Qt.Key.Key_Y, Qt.Key.Key_Z)
UNDO, REDO = QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo


class Line(QLineEdit):
    """What is typed in it is taken over while it is typed, so the steps of the work are its own steps too.

    Parameters
    ----------
    refuses : callable
        Whether a text is not taken over.
    """

    def __init__(self, refuses: Callable[[str], bool], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._refuses = refuses

    def half_typed(self) -> bool:
        """Whether there is text that has not been taken over."""
        return self.isModified() and self._refuses(self.text())

    def _steps(self, event: QEvent) -> bool:
        return isinstance(event, QKeyEvent) and (event.matches(UNDO) or event.matches(REDO)) and not self.half_typed()

    def _is_command(self, event: QEvent) -> bool:
        """Whether a key with Ctrl is no editing of text; the toolkit has more of these than a field of a number needs."""
        if not isinstance(event, QKeyEvent) or event.modifiers() != Qt.KeyboardModifier.ControlModifier:
            return False
        return Qt.Key.Key_A <= event.key() <= Qt.Key.Key_Z and event.key() not in (*EDITS, *(STEPS if self.half_typed() else ()))

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and (self._steps(event) or self._is_command(event)):
            event.ignore()  # the window's command takes it
            return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self._steps(event):
            event.ignore()
        else:
            super().keyPressEvent(event)
