"""A menu that is gone once it is closed: its entries hold what they act on; one that is only hidden would keep that for good."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu, QWidget


class PopupMenu(QMenu):
    """Filled, shown by `popup`, and gone."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
