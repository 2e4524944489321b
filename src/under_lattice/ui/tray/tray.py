"""The tray: siblings above, kept versions below; it can be closed, and is found again as it was left."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import QFrame, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from under_lattice.ui.look.tokens import TRAY_WIDTH, px
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.tray.kept_panel import KeptPanel
from under_lattice.ui.tray.siblings_panel import SiblingsPanel

KEPT_LEAST, KEPT_TALL, TALL = 124, 204, 860  # px of the shelf, and how high the tray must be for the higher one


class Tray(QWidget):
    """The column at the right."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(px(TRAY_WIDTH))
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Ignored)
        self.siblings, self.kept = SiblingsPanel(desk), KeptPanel(desk)
        self.kept.sibling_dropped.connect(self.siblings.keep)
        self.above = QScrollArea()
        self.above.setWidget(self.siblings)
        self.above.setWidgetResizable(True)
        self.above.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.picked: QWidget | None = None
        self.kept.setMinimumHeight(KEPT_LEAST)
        line = QFrame()
        line.setObjectName("divider")
        line.setFixedHeight(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.column = column
        column.addWidget(self.above)
        column.addWidget(line)
        column.addWidget(self.kept, 1)

    def put_above(self, panel: QWidget) -> None:
        """Put a panel that may stand above, in place of the siblings while it is shown."""
        self.picked = panel
        panel.hide()
        self.column.insertWidget(0, panel)

    def show_picked(self, shown: bool) -> None:
        """Show what is picked in place of the siblings, or these again."""
        going, coming = (self.above, self.picked) if shown else (self.picked, self.above)
        for panel, seen in ((going, False), (coming, True)):
            if panel is not None:
                panel.setVisible(seen)
        self.siblings.roaming.wake(self.isVisible() and not shown)

    def refresh(self) -> None:
        """Draw anew what carries the colours of the theme."""
        self.update()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        room = self.height() - (KEPT_LEAST if self.height() < TALL else KEPT_TALL) - 1
        self.siblings.lay(room)
        self.above.setFixedHeight(min(self.siblings.sizeHint().height(), room))

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.siblings.roaming.wake(not self.above.isHidden())

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.siblings.roaming.wake(False)
