"""The window as its parts see it: the open work, its page, how works are shown and complaints made."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMainWindow, QMessageBox

from under_lattice.ui.state.document import Document
from under_lattice.ui.window.studio import Studio
from under_lattice.work.model import Work


class Host(QMainWindow):
    """A window with at most one open work."""

    studio: Studio | None = None
    document: Document | None = None

    def show_work(self, work: Work, path: Path | None = None, altered: bool = False) -> None:
        """Show a work."""
        raise NotImplementedError

    def complain(self, sentence: str) -> None:
        """Show a message that says what is wrong."""
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Under Lattice", sentence, parent=self)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.open()
