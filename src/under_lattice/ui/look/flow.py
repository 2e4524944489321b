"""A layout of rows that are as full as they can be: what has no room beside the others goes below."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem


class Flow(QLayout):
    """Lays widgets from left to right at their own sizes, in as many rows as they need; hidden ones take no room."""

    def __init__(self, spacing: int) -> None:
        super().__init__()
        self._items: list[QLayoutItem] = []
        self.setSpacing(spacing)
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, at: int) -> QLayoutItem | None:
        return self._items[at] if 0 <= at < len(self._items) else None

    def takeAt(self, at: int) -> QLayoutItem | None:
        return self._items.pop(at) if 0 <= at < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._lay(QRect(0, 0, width, 0), False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._lay(rect, True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        shown = [item.minimumSize() for item in self._items if not item.isEmpty()]
        return QSize(max((one.width() for one in shown), default=0), max((one.height() for one in shown), default=0))

    def _lay(self, rect: QRect, moves: bool) -> int:
        """Lay the rows; returns how high they are together, px."""
        at, high = rect.topLeft(), 0
        for item in self._items:
            if item.isEmpty():
                continue
            size = item.sizeHint()
            if at.x() > rect.x() and at.x() + size.width() > rect.x() + rect.width():
                at, high = QPoint(rect.x(), at.y() + high + self.spacing()), 0
            if moves:
                item.setGeometry(QRect(at, size))
            at, high = at + QPoint(size.width() + self.spacing(), 0), max(high, size.height())
        return at.y() + high - rect.y()
