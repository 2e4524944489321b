"""The window as its parts see it: the open work, its page, how complaints are made."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMainWindow

from under_lattice.ui.look.dressing import Bare
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.words import Question
from under_lattice.ui.state.document import Document
from under_lattice.ui.window.studio import Studio
from under_lattice.work.model import Work


class Host(Bare, QMainWindow):
    """A window with at most one open work."""

    actions_by_key: dict[str, QAction]
    studio: Studio | None = None
    document: Document | None = None

    def show_work(self, work: Work) -> None:
        """Show a work that differs from nothing kept: a demo work, a blank start."""
        raise NotImplementedError

    def show_new(self, work: Work) -> None:
        """Show a work that no file holds yet."""
        raise NotImplementedError

    def switched(self, key: str) -> bool:
        """Tell whether a switch among the commands is on."""
        raise NotImplementedError

    def switch(self, key: str, on: bool) -> None:
        """Turn a switch among the commands, and do what it means."""
        raise NotImplementedError

    def show_switch(self, key: str, on: bool) -> None:
        """Show a switch among the commands as on or off, and do nothing."""
        raise NotImplementedError

    def below(self, key: str) -> QPoint:
        """Return the point of the window below the button of a command."""
        raise NotImplementedError

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Go on with the focus; where what had it has gone or cannot be used any more, the sheet gets it."""
        left = self.focusWidget()
        if self.studio is not None and self.studio.isVisible() and left is not None and not (left.isVisible() and left.isEnabled()):
            self.studio.sheet.setFocus(Qt.FocusReason.OtherFocusReason)
            return True
        return super().focusNextPrevChild(forward)

    def say(self, sentence: str) -> None:
        """Say a sentence beside the facts of the open work, or as a message where none is open."""
        if self.studio is not None and self.studio.isVisible():
            self.studio.facts_line.tell(sentence)
        else:
            self.complain(sentence)

    def complain(self, sentence: str) -> None:
        """Show a message that says what is wrong."""
        box = Question(self, capital(sentence))
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.open()
