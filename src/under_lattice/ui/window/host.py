"""The window as its parts see it: the open work, its page, how complaints are made."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMainWindow, QMessageBox

from under_lattice.ui.state.document import Document
from under_lattice.ui.window.studio import Studio


class Host(QMainWindow):
    """A window with at most one open work."""

    studio: Studio | None = None
    document: Document | None = None

    def complain(self, sentence: str) -> None:
        """Show a message that says what is wrong."""
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Under Lattice", sentence, parent=self)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.open()
