"""A line at the foot of the window that says what is under way: words, how far it is, a way to stop it."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words


class FootLine(QWidget):
    """Hidden until there is something under way.

    Parameters
    ----------
    called, how_far, stops : str
        What the line, its bar and its button are called, or do.
    """

    def __init__(self, called: str, how_far: str, stops: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("facts")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName(called)
        self.words, self.bar, self.stop_button = Words(""), QProgressBar(), QPushButton("Stop")
        self.bar.setRange(0, 1000)
        self.bar.setMaximumWidth(px(240))
        self.bar.setAccessibleName(how_far)
        self.stop_button.setToolTip(stops)
        self.line = QHBoxLayout(self)
        self.line.setContentsMargins(24, 4, 24, 4)
        self.line.setSpacing(12)
        self.line.addWidget(self.words)
        self.line.addWidget(self.bar, 1)
        self.line.addWidget(self.stop_button)
        self.line.addStretch(1)
        self.hide()

    def show_share(self, share: float) -> None:
        """Show how far it is, from 0 to 1."""
        self.bar.setValue(round(1000 * share))
