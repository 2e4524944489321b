"""Another layer or group of the work; below it what is in it, each a way there."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton, QVBoxLayout

from under_lattice.declare.dials import LayerChoice
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import LABEL_WIDTH, ListRow
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import on_button
from under_lattice.work.reading import may_read, members_of

LAYER = "layer:"  # before the id of a layer that shall be shown


class LayerRow(ListRow):
    """Layers that can be read without a circle."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self._members: tuple[tuple[str, str], ...] = ()
        self.below.setContentsMargins(px(LABEL_WIDTH) + 3, 0, 0, 2)
        self._links = QVBoxLayout()
        self.below.insertLayout(0, self._links)

    def entries(self) -> list[tuple[str, str]]:
        dial = self.dial
        assert isinstance(dial, LayerChoice)
        layers = may_read(self.hand.document.design, self.hand.layer, dial.groups)
        words = [(f"group {one.name}" if one.members else one.name, one.id) for one in layers]
        return [("none", ""), *words]

    def refresh(self) -> None:
        super().refresh()
        found = members_of(self.hand.document.design, self.value) if self.value else ()
        members = tuple((one.id, one.name) for one in found)
        if members == self._members:
            return
        self._members = members
        emptied(self._links)
        for layer, title in members:
            link = QPushButton(on_button(f"{title}  →"))
            link.setObjectName("link")
            link.setAccessibleName(f"Show {title}, which this is made of")
            link.setToolTip("Show this layer; the way back stands above its chain")
            link.setStyleSheet("text-align: left; padding-left: 2px")
            link.setCursor(Qt.CursorShape.PointingHandCursor)
            link.clicked.connect(partial(self._show, layer))
            self._links.addWidget(link)

    def _show(self, layer: str) -> None:
        self.wanted.emit(LAYER + layer)
