"""Works that no file held when the program ended: each with its picture, its name and the time of its copy."""

from __future__ import annotations

from datetime import datetime

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QImage, QPixmap
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from under_lattice.files.unsaved import Unsaved
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.glyphs import true_icon
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.look.words import Words

PICTURE = QSize(96, 72)


class RecoveryDialog(Dialog):
    """Offers the works; `opened` carries the one to go on with. What is neither opened nor removed is offered again."""

    opened = Signal(object)

    def __init__(self, found: list[Unsaved], problems: list[str], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Not saved before")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.found = list(found)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(10)
        title, words = (
            Words("Works that were not saved"),
            Words("Under Lattice ended before these were saved. Nothing of them is lost."),
        )
        title.setObjectName("heading")
        words.setObjectName("quiet")
        self.list = QListWidget()
        self.list.setIconSize(PICTURE)
        self.list.setAccessibleName("Works that were not saved")
        self.list.itemActivated.connect(self._open)
        column.addWidget(title)
        column.addWidget(words)
        column.addWidget(self.list, 1)
        if problems:
            told = Words(f"Passed over: {'; '.join(problems[:3])}{' …' if len(problems) > 3 else ''}")
            told.setObjectName("error")
            told.setWordWrap(True)
            column.addWidget(told)
        column.addLayout(self._buttons())
        for one in self.found:
            self.list.addItem(self._item(one))
        self.list.setCurrentRow(0)
        self.resize(480, 210 + 84 * min(max(len(self.found) - 1, 0), 4))
        self.finished.connect(self._let_go)

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        self.remove, later, self.go = QPushButton("Remove"), QPushButton("Later"), QPushButton("Open")
        self.remove.setToolTip("Remove the copy for good")
        later.setToolTip("They are offered again at the next start")
        self.go.setObjectName("primary")
        self.go.setDefault(True)
        self.remove.clicked.connect(self._remove)
        later.clicked.connect(self.reject)
        self.go.clicked.connect(self._open)
        row.addWidget(self.remove)
        row.addStretch(1)
        row.addWidget(later)
        row.addWidget(self.go)
        return row

    @staticmethod
    def _item(one: Unsaved) -> QListWidgetItem:
        image, pixmap = QImage.fromData(one.picture), QPixmap(PICTURE)
        pixmap.fill(colour("hover"))
        if not image.isNull():
            pixmap = QPixmap.fromImage(image)
        at = one.at.astimezone()
        day = "today" if at.date() == datetime.now().astimezone().date() else f"{at:%Y-%m-%d}"
        file = f"last saved as {one.own.name}" if one.own is not None else "never saved in a file"
        return QListWidgetItem(true_icon(pixmap), f"{one.work.design.name}\n{day}, {at:%H:%M}\n{file}")

    def _open(self) -> None:
        row = self.list.currentRow()
        if row >= 0:
            chosen = self.found.pop(row)
            self.accept()
            self.opened.emit(chosen)

    def _remove(self) -> None:
        row = self.list.currentRow()
        if row < 0:
            return
        self.found.pop(row).place.clear()
        self.list.takeItem(row)
        if not self.found:
            self.reject()

    def _let_go(self) -> None:
        """Leave the others to the next start."""
        for one in self.found:
            one.place.let_go()
