"""The way back from a layer to those that are made of it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.words import on_button, tip
from under_lattice.ui.state.desk import Desk
from under_lattice.work.reading import read_by

SHOWN = 3


class BackBar(QWidget):
    """Stands above a chain that other layers read."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self._shown: tuple[tuple[str, str], ...] = ()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 2, 8, 0)
        self.column.setSpacing(0)
        desk.document.changed.connect(self.refresh)
        desk.looked.layer_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show who reads the chosen layer."""
        layer = self.desk.looked.layer
        readers = tuple((one.id, one.name) for one in read_by(self.desk.document.design, layer))[:SHOWN] if layer else ()
        if readers != self._shown:
            self._shown = readers
            emptied(self.column)
            for reader, name in readers:
                link = QPushButton(on_button(f"←  Back to {name}"))
                link.setObjectName("link")
                link.setToolTip(tip(f"{name} is made with this layer"))
                link.setStyleSheet("text-align: left")
                link.setCursor(Qt.CursorShape.PointingHandCursor)
                link.clicked.connect(partial(self._choose, reader))
                self.column.addWidget(link)
        self.setVisible(bool(readers))

    def _choose(self, layer: str, _: bool = False) -> None:
        self.desk.looked.layer = layer
