"""The strokes of a painted mask in their row: paint on the sheet, take the last one away, or all."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.outline_row import PAINTING
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.words import Words


class StrokesRow(DialRow):
    """A button that takes up the brush, how many strokes there are, and a way to begin anew."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.button = QPushButton("Paint on the sheet")
        self.button.setToolTip("Drags on the sheet are strokes until Escape; Shift makes them straight")
        self.button.clicked.connect(lambda: self.wanted.emit(PAINTING))
        self.said = Words("")
        self.said.setObjectName("derived")
        self.clear = QPushButton("Clear")
        self.clear.setObjectName("link")
        self.clear.setToolTip("Take all strokes away")
        self.clear.clicked.connect(lambda: self.turn(""))
        self.line.addWidget(self.button, 1)
        self.line.addWidget(self.said)
        self.line.addWidget(self.clear)

    def refresh(self) -> None:
        count = sum(1 for line in self.value.splitlines() if line.strip())
        self.said.setText("none" if not count else str(count))
        self.said.setToolTip("one stroke" if count == 1 else f"{count or 'no'} strokes")
        self.clear.setVisible(bool(count))
