"""F1: finds commands, rules and dials by everyday words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget


@dataclass(frozen=True)
class Entry:
    """Something that can be found: its words, more words that find it, a hint, and what it does."""

    words: str
    search: str
    hint: str
    act: Callable[[], None]


def found(entries: list[Entry], text: str) -> list[Entry]:
    """Return the entries in which every typed word begins some word; names before everyday words."""
    typed = text.lower().split()
    if not typed:
        return entries
    ranked = []
    for entry in entries:
        own, more = entry.words.lower().replace(":", " ").split(), entry.search.lower().split()
        if all(any(word.startswith(one) for word in own + more) for one in typed):
            ranked.append((sum(not any(word.startswith(one) for word in own) for one in typed), entry))
    return [entry for _, entry in sorted(ranked, key=lambda pair: pair[0])]


class CommandSearch(QDialog):
    """A field and what it finds; Enter does it."""

    def __init__(self, entries: list[Entry], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find a command")
        self.entries = entries
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        self.field = QLineEdit()
        self.field.setPlaceholderText("any word: honeycomb, size, outline, export …")
        self.field.setAccessibleName("Find a command")
        self.field.textChanged.connect(self._find)
        self.field.installEventFilter(self)
        self.list = QListWidget()
        self.list.setAccessibleName("Found")
        self.list.itemActivated.connect(self._do)
        self.list.itemClicked.connect(self._do)
        self.nothing = QLabel("Nothing is called that. Try another word.")
        self.nothing.setObjectName("small")
        column.addWidget(self.field)
        column.addWidget(self.list)
        column.addWidget(self.nothing)
        self.resize(460, 380)
        self._find("")

    def _find(self, text: str) -> None:
        self.list.clear()
        for entry in found(self.entries, text):
            item = QListWidgetItem(f"{entry.words}    {entry.hint}" if entry.hint else entry.words)
            item.setData(Qt.ItemDataRole.UserRole, entry)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.nothing.setVisible(self.list.count() == 0)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step is not None and self.list.count():
                self.list.setCurrentRow((self.list.currentRow() + step) % self.list.count())
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                item = self.list.currentItem()
                if item is not None:
                    self._do(item)
                return True
        return super().eventFilter(watched, event)

    def _do(self, item: QListWidgetItem) -> None:
        entry: Entry = item.data(Qt.ItemDataRole.UserRole)
        self.accept()
        QTimer.singleShot(0, entry.act)  # once the window has its focus back
