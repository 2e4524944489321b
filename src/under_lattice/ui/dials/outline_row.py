"""An outline: how many parts it has, and a button to bring another in from an SVG file."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QPushButton

from under_lattice.declare.shape_list import shapes_of_text
from under_lattice.files.bounded import read_bytes
from under_lattice.geometry.path_text import parts_of_text
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import LABEL_WIDTH, DialRow
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.workers.background import background

if TYPE_CHECKING:
    from under_lattice.files.svg.shapes import BroughtIn


DRAWING = "drawing"  # wanted: the next drag on the sheet is a line
PAINTING = "painting"  # wanted: drags on the sheet are strokes of a mask


class OutlineRow(DialRow):
    """Parts and points, and where they came from."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.said = Words("")
        self.said.setObjectName("derived")
        self.said.setContentsMargins(px(LABEL_WIDTH) + 8, 0, 0, 0)
        self.button = QPushButton("From an SVG…")
        self.button.setAccessibleName(f"{self.dial.label}, bring one in from an SVG file")
        self.button.clicked.connect(self._choose)
        self.line.addWidget(self.button, 1)
        self.below.addWidget(self.said)
        self.left = Words("")
        self.left.setObjectName("hint")
        self.left.setWordWrap(True)
        self.left.setContentsMargins(px(LABEL_WIDTH) + 8, 0, 0, 0)
        self.left.hide()
        self.below.addWidget(self.left)

    def refresh(self) -> None:
        parts = parts_of_text(self.value)
        count = sum(len(points) for _, points in parts)
        self.said.setText(f"{'one part' if len(parts) == 1 else f'{len(parts)} parts'}, {count:,} points")

    def _choose(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.window(), "Bring in an outline", "", "SVG (*.svg)")
        if path:
            self.bring_file(Path(path))

    def bring_file(self, path: Path) -> None:
        """Read an SVG in the background and take its outlines."""

        def read() -> BroughtIn:
            from under_lattice.files.svg.shapes import read_svg  # loads the reader of path data

            return read_svg(read_bytes(path), path.name)

        background(self, read, self._take, self.refuse)

    def _take(self, found: BroughtIn) -> None:
        self.turn(found.text)
        self.left.setText(f"Left out: {'; '.join(found.left_out)}" if found.left_out else "")
        self.left.setVisible(bool(found.left_out))


class LineRow(DialRow):
    """A drawn line: a button to draw another."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.button = QPushButton("Draw on the sheet")
        self.button.setToolTip("The next drag on the sheet is the line; Escape gives it up")
        self.button.setAccessibleName(f"{self.dial.label}, draw another on the sheet")
        self.button.clicked.connect(lambda: self.wanted.emit(DRAWING))
        self.line.addWidget(self.button, 1)


class ShapesRow(DialRow):
    """How many separate shapes there are."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.said = Words("")
        self.said.setObjectName("derived")
        self.line.addWidget(self.said, 1)

    def refresh(self) -> None:
        parts = shapes_of_text(self.value).parts
        count = sum(len(points) for _, points in parts)
        self.said.setText(f"{'one shape' if len(parts) == 1 else f'{len(parts):,} shapes'}, {count:,} points")
