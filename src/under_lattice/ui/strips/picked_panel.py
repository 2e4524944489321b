"""The picked cell of a strip, large in the tray, with what differs from now and what can be done with it."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.words import Words, tip
from under_lattice.ui.strips.strip_page import StripPage
from under_lattice.ui.tray.tile import Tile
from under_lattice.ui.workers.cells import Cells
from under_lattice.work.model import Design

WIDE = 240


class PickedPanel(QWidget):
    """Stands above in the tray while a strip is open."""

    shown = Signal(bool)

    def __init__(self, page: StripPage) -> None:
        super().__init__()
        self.page, self.cells = page, Cells(self)
        self.at: tuple[int, int] | None = None
        self._design: Design | None = None
        self.title, self.place = Words("Picked"), Words("")
        self.title.setObjectName("heading")
        self.place.setObjectName("small")
        head = QHBoxLayout()
        head.addWidget(self.title)
        head.addStretch(1)
        head.addWidget(self.place)
        self.tile = Tile(WIDE, WIDE)
        self.tile.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.tile.setAccessibleName("The picked picture")
        self.values = QGridLayout()
        self.adopt, self.keep, self.finer = QPushButton("Adopt"), QPushButton("Keep"), QPushButton("Finer around this one")
        self.adopt.clicked.connect(lambda: self.at is not None and page.adopt(*self.at))
        self.keep.clicked.connect(lambda: self.at is not None and page.keep(*self.at))
        self.finer.clicked.connect(lambda: self.at is not None and page.finer(*self.at))
        buttons = QGridLayout()
        buttons.addWidget(self.adopt, 0, 0)
        buttons.addWidget(self.keep, 0, 1)
        buttons.addWidget(self.finer, 1, 0, 1, 2)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 10, 12, 8)
        column.setSpacing(8)
        column.addLayout(head)
        column.addWidget(self.tile)
        column.addLayout(self.values)
        column.addLayout(buttons)
        column.addStretch(1)
        page.picked.connect(self._show)
        self.cells.came.connect(self._came)
        self._show(None)

    def _show(self, picked: tuple[Design, tuple[int, int]] | None) -> None:
        """Show a cell, or that none is picked."""
        emptied(self.values)
        for button in (self.adopt, self.keep, self.finer):
            button.setEnabled(picked is not None)
        strip = self.page.strip
        if picked is None or strip is None:
            self.at, self._design = None, None
            self.tile.hide()
            self.place.setText("")
            self.values.addWidget(Words("Press a picture of the strip."), 0, 0)
            return
        design, self.at = picked
        self.place.setText(f"column {self.at[0] + 1}, row {self.at[1] + 1}")
        now = strip.now
        for line, (axis, at, was) in enumerate(
            ((strip.across, self.at[0], now and now[0]), *(((strip.down, self.at[1], now and now[1]),) if strip.down else ()))
        ):
            what, how = Words(axis.label), Words(axis.steps[at].words)
            what.setObjectName("small")
            how.setObjectName("bold")
            if was is not None and was != at:
                how.setText(f"{axis.steps[was].words} → {axis.steps[at].words}")
            room = WIDE - how.fontMetrics().horizontalAdvance(how.text()) * 11 // 10 - 8
            what.setToolTip(tip(axis.label))
            what.setText(
                what.fontMetrics().elidedText(axis.label.partition(": ")[2] or axis.label, Qt.TextElideMode.ElideRight, room)
            )
            self.values.addWidget(what, line, 0)
            self.values.addWidget(how, line, 1, Qt.AlignmentFlag.AlignRight)
        self.tile.show()
        if design != self._design:
            self._design = design
            sheet = design.sheet
            high = min(WIDE, max(40, round(WIDE * sheet.height / sheet.width)))
            self.tile.setFixedSize(WIDE, high)
            size = QSize(WIDE - 4, high - 4) * self.devicePixelRatioF()
            self.cells.ask_one(0, design, size)

    def _came(self, _: int, column: int, row: int, picture: QImage) -> None:
        self.tile.show_picture(picture)
