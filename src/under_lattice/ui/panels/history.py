"""The history as pictures: all steps in words, those that were taken back too; a press goes to one."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QSize, Qt
from PySide6.QtGui import QIcon, QImage, QKeyEvent, QPixmap
from PySide6.QtWidgets import QFrame, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from under_lattice.ui.look.glyphs import true_icon
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.look.words import Words
from under_lattice.ui.state.document import Document
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import picture_of

SMALL = QSize(52, 36)
WIDE, HIGH = 340, 460


class History(QFrame):
    """A list under the undo button."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popup")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.document, self.pictures = document, Pictures(self)
        self.setFixedSize(WIDE, HIGH)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        title = Words("Steps, the newest on top")
        title.setObjectName("small")
        self.list = QListWidget()
        self.list.setIconSize(SMALL)
        self.list.setAccessibleName("Steps of the work")
        column.addWidget(title)
        column.addWidget(self.list)
        for at in range(len(document.moments) - 1, -1, -1):
            self.list.addItem(self._item(at))
        self.list.setCurrentRow(len(document.moments) - 1 - document.at)
        self.list.itemClicked.connect(self._go)
        self.list.itemActivated.connect(self._go)
        self.list.verticalScrollBar().valueChanged.connect(self._want)
        self.pictures.made.connect(self._made)

    def _item(self, at: int) -> QListWidgetItem:
        moment, now = self.document.moments[at], self.document.at
        state = "now" if at == now else "taken back" if at > now else ""
        item = QListWidgetItem(f"{moment.words}{f'  ({state})' if state else ''}")
        item.setData(Qt.ItemDataRole.UserRole, at)
        item.setIcon(self._empty())
        if at > now:
            item.setForeground(colour("dis"))
        return item

    @staticmethod
    def _empty() -> QIcon:
        pixmap = QPixmap(SMALL)
        pixmap.fill(colour("hover"))
        return true_icon(pixmap)

    def open_at(self, where: QPoint) -> None:
        """Open it with its upper left corner at a point of the screen."""
        self.move(where)
        self.show()
        self.list.setFocus()
        self._want()

    def _want(self) -> None:
        """Ask for the pictures of the steps that are seen."""
        seen = self.list.viewport().rect()
        for row in range(self.list.count()):
            item = self.list.item(row)
            at = item.data(Qt.ItemDataRole.UserRole)
            if self.list.visualItemRect(item).intersects(seen) and not item.data(Qt.ItemDataRole.UserRole + 1):
                item.setData(Qt.ItemDataRole.UserRole + 1, True)
                design, size = self.document.moments[at].design, SMALL * self.devicePixelRatioF()
                self.pictures.want(str(at), partial(picture_of, design, size.width(), size.height()))

    def _made(self, key: str, picture: QImage) -> None:
        for row in range(self.list.count()):
            if str(self.list.item(row).data(Qt.ItemDataRole.UserRole)) == key:
                self.list.item(row).setIcon(true_icon(QPixmap.fromImage(picture)))

    def _go(self, item: QListWidgetItem) -> None:
        self.pictures.drop()
        self.close()
        self.document.go_to(int(item.data(Qt.ItemDataRole.UserRole)))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.pictures.drop()
            self.close()
        else:
            super().keyPressEvent(event)
