"""A line of text that leaves undo and redo to the work, as long as no half-typed text stands in it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QLineEdit, QWidget

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

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and self._steps(event):
            event.ignore()  # the window's command takes it
            return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self._steps(event):
            event.ignore()
        else:
            super().keyPressEvent(event)
