"""Opening, saving and exporting the work of a window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import QEventLoop
from PySide6.QtWidgets import QFileDialog, QMessageBox

from under_lattice.files.recipe import Opened, open_any
from under_lattice.files.storage import name_from, stem_of, write
from under_lattice.ui.dialogs.export_dialog import ExportDialog
from under_lattice.ui.dialogs.save_where import ask_where
from under_lattice.ui.look.words import Question
from under_lattice.ui.state import recent
from under_lattice.ui.window.host import Host
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import UNTITLED, Work

Show = Callable[[Work, Path | None, bool], None]  # a work, its own file if it has one, whether it differs from what it came from
ENDINGS = (".lattice", ".svg", ".png")


class WorkFiles:
    """All that a window does with files."""

    def __init__(self, window: Host, show: Show) -> None:
        self.window, self._show = window, show
        self.opening = False
        self.saving: Job | None = None

    def may_leave(self) -> bool:
        """Ask about unsaved work; tells whether it may be left."""
        document = self.window.document
        if self.saving is not None:
            self._wait_for(self.saving)
        if document is None or not document.modified:
            return True
        box = Question(self.window, f"Save changes to “{document.design.name}”?", "Without saving they are lost.")
        buttons = QMessageBox.StandardButton
        box.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        box.button(buttons.Discard).setText("Close without saving")
        answer = box.exec()
        if answer == buttons.Save:
            job = self.save()
            if job is not None:
                self._wait_for(job)
            return not document.modified
        return answer == buttons.Discard

    # -- opening ---------------------------------------------------------------------------------
    def ask_open(self) -> None:
        """Ask for a file and open it."""
        if not self.may_leave():
            return
        chosen, _ = QFileDialog.getOpenFileName(
            self.window, "Open", str(self.folder()), "Works, and drawings with their recipe (*.lattice *.svg *.png)"
        )
        if chosen:
            self.open_path(Path(chosen))

    def open_path(self, path: Path) -> None:
        """Open a work, or the live work inside an SVG or PNG; it is read off the interface thread."""
        self.opening = True
        background(self.window, lambda: open_any(path), lambda opened: self._opened(path, opened), self._not_opened)

    def _not_opened(self, sentence: str) -> None:
        self.opening = False
        self.window.complain(sentence)

    def _opened(self, path: Path, opened: Opened) -> None:
        self.opening = False
        if opened.altered and not self._take_recipe(path):
            return
        own = path.suffix.lower() == ".lattice"
        self._show(opened.work, path if own else None, not own)
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

    def save(self) -> Job | None:
        """Save the work in its file, or ask for one; it is written off the interface thread."""
        document = self.window.document
        if document is None:
            return None
        return self._write(document.path) if document.path is not None else self.save_as()

    def save_as(self) -> Job | None:
        """Ask for a file and save the work there."""
        document = self.window.document
        if document is None:
            return None
        name = stem_of(document.design.name)
        path = ask_where(self.window, "Save as", self.folder() / f"{name}.lattice", ".lattice", "Works")
        return self._write(path) if path is not None else None

    def _write(self, path: Path) -> Job:
        document = self.window.document
        assert document is not None
        name = name_from(path) if document.path is None and document.design.name == UNTITLED else UNTITLED
        document.call(name)
        work = document.work

        def saved(_: object) -> None:
            self.saving = None
            document.saved_as(path, work)
            if self.window.studio is not None:
                self.window.studio.facts_line.tell(f"saved as {path.name}")

        def not_saved(sentence: str) -> None:
            self.saving = None
            document.call(UNTITLED, name)
            self.window.complain(sentence)

        def written(_: object) -> None:
            write(work, path)
            recent.remember(path)

        job = Job(f"save {path}", Urgency.LOOKED_AT, written, saved, not_saved, owner=self.window)
        job.gives_way = lambda: False
        self.saving = worker().ask(job)
        return job

    def _wait_for(self, job: Job) -> None:
        """Let the window go on painting until a file is written."""
        loop = QEventLoop()

        def then_quit(told: Callable[[Any], None]) -> Callable[[Any], None]:
            def tell(answer: Any) -> None:
                told(answer)
                loop.quit()

            return tell

        job.done, job.failed = then_quit(job.done), then_quit(job.failed)
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)

    def export(self) -> None:
        """Open the export dialog."""
        document, studio = self.window.document, self.window.studio
        if document is not None and studio is not None:
            dialog = ExportDialog(document.work, self.folder(), self.window)
            dialog.chose.connect(document.exported)
            dialog.finished_with.connect(lambda path: studio.facts_line.tell(f"exported {Path(path).name}"))
            dialog.open()
