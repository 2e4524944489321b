"""Opening, saving and exporting the work of a window."""

from __future__ import annotations

from collections.abc import Callable
from itertools import zip_longest
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QMessageBox

from under_lattice.files.brought import open_or_draw
from under_lattice.files.recipe import Opened
from under_lattice.files.saving import Seen
from under_lattice.ui.export.exports_bar import Export, ExportsBar
from under_lattice.ui.look.words import Question
from under_lattice.ui.state import recent
from under_lattice.ui.state.document import Document
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.reading_bar import ReadingBar
from under_lattice.ui.window.saving import ENDING, Saving
from under_lattice.ui.workers.background import background
from under_lattice.work.model import Work

if TYPE_CHECKING:  # what writes files is loaded when it is wanted
    from under_lattice.output.format import Purpose
    from under_lattice.ui.export.writing import Order

Show = Callable[[Work, Path | None, bool, Seen | None], None]  # a work, its file, whether it differs from that, what it held
ENDINGS = (".lattice", ".svg", ".png", ".pdf")


class WorkFiles:
    """All that a window does with files."""

    def __init__(self, window: Host, show: Show) -> None:
        self.window, self._show = window, show
        self.opening = False
        self._exported: tuple[Document | None, Order | None] = None, None  # the work that was exported last, and how
        self.saving = Saving(window, self.folder, lambda: window.actions_by_key["compare"].trigger())
        self.exports, self.reading = ExportsBar(window), ReadingBar(window)
        self.exports.finished.connect(lambda words: window.say(f"exported {words}"))
        self.exports.failed.connect(window.complain)

    def may_close(self) -> bool:
        """Ask about unsaved work, and about exports under way; tells whether the window may be closed."""
        if not self.may_leave():
            return False
        if self.exports.exports:
            box = Question(self.window, "Files are still being exported.", "What is not written by then is left aside.")
            stop = box.addButton("Stop them and close", QMessageBox.ButtonRole.DestructiveRole)
            box.addButton("Go on", QMessageBox.ButtonRole.RejectRole)
            box.exec()
            if box.clickedButton() is not stop:
                return False
            self.exports.stop_all()
        return True

    def may_leave(self) -> bool:
        """Ask about unsaved work; tells whether it may be left."""
        document = self.window.document
        self.saving.wait()
        if document is None or not document.modified:
            return True
        box = Question(self.window, f"Save changes to “{document.design.name}”?", "Without saving they are lost.")
        buttons = QMessageBox.StandardButton
        box.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        box.button(buttons.Discard).setText("Close without saving")
        answer = box.exec()
        if answer == buttons.Save:
            self.saving.save()
            self.saving.wait()
            return not document.modified
        return answer == buttons.Discard

    # -- opening ---------------------------------------------------------------------------------
    def ask_open(self) -> None:
        """Ask for a file and open it."""
        if not self.may_leave():
            return
        chosen, _ = QFileDialog.getOpenFileName(
            self.window, "Open", str(self.folder()), "Works, and drawings with their recipe (*.lattice *.svg *.png *.pdf)"
        )
        if chosen:
            self.open_path(Path(chosen))

    def open_path(self, path: Path) -> None:
        """Open a work, or the live work inside an SVG or PNG; it is read off the interface thread.

        What may be left was asked before. Edits that are made while it is read are asked about too.
        """
        self.opening = True
        left = self._state()
        read = lambda progress: open_or_draw(path, progress)  # noqa: E731
        self.reading.read(path.name, read, lambda opened: self._opened(path, opened, left), self._not_opened)

    def _state(self) -> tuple[object, ...]:
        """What the open work is, to tell whether it was edited since."""
        document = self.window.document
        return () if document is None else (document, document.design, document.work.kept)

    def _not_opened(self, sentence: str) -> None:
        self.opening = False
        if sentence:  # it was not stopped
            self.window.complain(sentence)

    def _opened(self, path: Path, opened: Opened, left: tuple[object, ...]) -> None:
        self.opening = False
        edited = any(one is not before for one, before in zip_longest(self._state(), left))
        if (edited and not self.may_leave()) or (opened.altered and not self._take_recipe(path)):
            return
        own = path.suffix.lower() == ENDING
        self._show(opened.work, path if own else None, not own, opened.seen)
        if opened.note:
            self.window.say(opened.note)
        background(self.window, lambda: recent.remember(path), lambda _: None, lambda _: None)

    def _take_recipe(self, path: Path) -> bool:
        more = "The live work inside is still as it was at the export. Open it without those changes?"
        box = Question(self.window, f"{path.name} was changed after it was exported.", more)
        take = box.addButton("Open the live work", QMessageBox.ButtonRole.AcceptRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.exec()
        return box.clickedButton() is take

    # -- saving ----------------------------------------------------------------------------------
    def folder(self) -> Path:
        """Return the folder that dialogs begin in."""
        document = self.window.document
        if document is not None and document.path is not None:
            return document.path.parent
        lately = recent.recent_works()
        return lately[0].parent if lately else Path.home()

    def export(self, purpose: Purpose | None = None) -> None:
        """Open the export dialog, for somebody or something."""
        from under_lattice.ui.export.export_dialog import ExportDialog

        document, studio = self.window.document, self.window.studio
        if document is not None and studio is not None:
            dialog = ExportDialog(document.work, self.folder(), self.window, line=self.exports)
            dialog.moment = studio.looked.moment
            if purpose is not None:
                dialog.begin_for(purpose)
            dialog.chose.connect(document.exported)
            dialog.written_to.connect(self._wrote)
            dialog.finished_with.connect(lambda words: studio.facts_line.tell(f"exported {words}"))
            dialog.open()

    def plot(self) -> None:
        """Open what draws the work on a plotter."""
        from under_lattice.ui.plotting.plot_dialog import PlotDialog

        document = self.window.document
        if document is not None:
            PlotDialog(document.work, self.window, document.moment()).open()

    def _wrote(self, order: Order) -> None:
        self._exported = self.window.document, order

    def export_again(self) -> None:
        """Write the last export of this work once more, as it is now, into the same files; else open the dialog."""
        from under_lattice.ui.export.writing import write_pieces

        document, (last, order) = self.window.document, self._exported
        if document is None or last is not document or order is None:
            self.export()
            return
        pieces, moment = order.pieces(document.work), document.moment()
        if not pieces:  # all kept versions are gone
            self.export()
            return
        written = lambda progress: f"again: {write_pieces(pieces, moment, progress)}"  # noqa: E731
        self.exports.leave(self.exports.add(Export(order.title, written)))
