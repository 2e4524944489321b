"""The way back from a layer to those that are made of it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.state.document import Document
from under_lattice.work.reading import read_by

SHOWN = 3


class BackBar(QWidget):
    """Stands above a chain that other layers read."""

    wanted = Signal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._shown: tuple[tuple[str, str], ...] = ()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 2, 8, 0)
        self.column.setSpacing(0)
        self.hide()

    def show_layer(self, layer: str) -> None:
        """Show who reads a layer."""
        readers = tuple((one.id, one.name) for one in read_by(self.document.design, layer))[:SHOWN] if layer else ()
        if readers != self._shown:
            self._shown = readers
            emptied(self.column)
            for reader, name in readers:
                link = QPushButton(f"←  Back to {name}")
                link.setObjectName("link")
                link.setToolTip(f"{name} is made with this layer")
                link.setStyleSheet("text-align: left")
                link.setCursor(Qt.CursorShape.PointingHandCursor)
                link.clicked.connect(partial(self.wanted.emit, reader))
                self.column.addWidget(link)
        self.setVisible(bool(readers))
