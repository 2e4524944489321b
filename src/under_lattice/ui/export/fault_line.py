"""What is wrong with an export, one thing after the other, each shown in the preview, with the option that mends it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from under_lattice.output import Format
from under_lattice.ui.export.export_preview import PreviewView
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.words import Words, on_button


class FaultLine(QWidget):
    """One fault of those the preview shows."""

    mended = Signal(str, object)  # option, value

    def __init__(self, view: PreviewView, options: Callable[[], Format]) -> None:
        super().__init__()
        self.view, self._options = view, options
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.words = Words("")
        self.words.setObjectName("error")
        self.words.setWordWrap(True)
        self.cure, self.next = QPushButton(""), QPushButton("next")
        row.addWidget(self.words, 1)
        for button, name, does in ((self.cure, "cure", self._mend), (self.next, "link", self._next)):
            button.setObjectName(name)
            button.setAutoDefault(False)
            button.clicked.connect(does)
            row.addWidget(button)
        self.show_faults()

    def show_faults(self) -> None:
        """Show the fault the preview shows, and what mends it."""
        faults, at = self.view.faults(), max(self.view.fault, 0)
        shown = faults[at] if faults else None
        self.setVisible(shown is not None)
        if shown is None:
            return
        self.words.setText(f"{at + 1} of {len(faults)}: {shown.words}" if len(faults) > 1 else capital(shown.words))
        self.next.setVisible(len(faults) > 1)
        self.cure.setVisible(shown.cure is not None)
        if shown.cure is not None:
            name, value = shown.cure
            label = self._options().dials()[name].label
            self.cure.setText(on_button(label.lower() if value is True else f"{label.lower()} {value}"))

    def _next(self) -> None:
        self.view.show_fault((max(self.view.fault, 0) + 1) % len(self.view.faults()))
        self.show_faults()

    def _mend(self) -> None:
        cure = self.view.faults()[max(self.view.fault, 0)].cure
        if cure is not None:
            self.mended.emit(*cure)
