"""Saving the work of a window, and asking where its file is not as it was left."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

from PySide6.QtCore import QEventLoop
from PySide6.QtWidgets import QMessageBox

from under_lattice.core.errors import LatticeError
from under_lattice.files.recipe import Opened, open_any
from under_lattice.files.saving import OthersWrote, Seen
from under_lattice.files.storage import free_path, name_from, stem_of, write
from under_lattice.ui.dialogs.save_where import ask_where
from under_lattice.ui.look.words import Question
from under_lattice.ui.state import recent
from under_lattice.ui.window.host import Host
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import UNTITLED
from under_lattice.work.shelf import put_on

ENDING = ".lattice"
MEANWHILE = "It does not hold what was opened or saved here any more. What shall become of the two?"
GONE = "It was moved, renamed or removed since it was opened or saved here."


class Saving:
    """Writes the work off the interface thread; a file that others wrote meanwhile is never written over unasked.

    Parameters
    ----------
    window : Host
    folder : callable
        The folder that dialogs begin in.
    compare : callable
        Shows the version that was kept last beside the work.
    """

    def __init__(self, window: Host, folder: Callable[[], Path], compare: Callable[[], object]) -> None:
        self.window, self.folder, self.compare = window, folder, compare
        self.job: Job | None = None

    def save(self) -> None:
        """Save the work in its file, or ask for one."""
        document = self.window.document
        if document is None:
            return
        if document.path is not None:
            self.write(document.path, document.seen)
        else:
            self.save_as()

    def save_as(self) -> None:
        """Ask for a file and save the work there."""
        document = self.window.document
        if document is None:
            return
        stem = document.path.stem if document.path is not None else stem_of(document.design.name)
        path = ask_where(self.window, "Save as", self.folder() / f"{stem}{ENDING}", ENDING, "Works")
        if path is not None:
            self.write(path)

    def write(self, path: Path, seen: Seen | None = None) -> None:
        """Write the work to a file; with `seen` only where the file still holds that."""
        document = self.window.document
        assert document is not None
        name = name_from(path) if document.path is None and document.design.name == UNTITLED else UNTITLED
        document.call(name)
        work = document.work

        def written(_: object) -> Seen | OthersWrote:
            try:
                holds = write(work, path, seen)
            except OthersWrote as met:
                return met
            recent.remember(path)
            return holds

        def done(answer: Seen | OthersWrote) -> None:
            self.job = None
            if isinstance(answer, OthersWrote):
                document.call(UNTITLED, name)
                self._ask_what_now(path, answer)
                return
            document.saved_as(path, work, answer)
            self.window.say(f"saved as {path.name}")

        def not_saved(sentence: str) -> None:
            self.job = None
            document.call(UNTITLED, name)
            self._offer_elsewhere(sentence)

        job = Job(f"save {path}", Urgency.LOOKED_AT, written, done, not_saved, owner=self.window)
        job.gives_way = lambda: False
        self.job = worker().ask(job)

    def wait(self) -> None:
        """Let the window go on painting until all is written that was asked to be, questions included."""
        while self.job is not None:
            self._wait_for(self.job)

    def _wait_for(self, job: Job) -> None:
        loop = QEventLoop()

        def then_quit(told: Callable[[Any], None]) -> Callable[[Any], None]:
            def tell(answer: Any) -> None:
                loop.quit()
                told(answer)

            return tell

        job.done, job.failed = then_quit(job.done), then_quit(job.failed)
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)

    # -- where it could not be saved as it was meant ---------------------------------------------
    def _ask_what_now(self, path: Path, met: OthersWrote) -> None:
        """Ask what becomes of a file that others wrote, or took away."""
        box = Question(self.window, f"{met}.", GONE if met.gone else MEANWHILE)
        roles = QMessageBox.ButtonRole
        acts: dict[object, Callable[[], object]] = {}
        if met.gone:
            first = box.addButton("Save it there again", roles.AcceptRole)
            acts[first] = lambda: self.write(path)
            acts[box.addButton("Save as…", roles.AcceptRole)] = self.save_as
        else:
            first = box.addButton("Keep both", roles.AcceptRole)
            first.setToolTip("Yours goes into a new file beside it, and you go on with that")
            acts[first] = lambda: self.write(free_path(path.parent, path.stem, path.suffix))
            acts[box.addButton("Show both", roles.ActionRole)] = lambda: self._show_both(path)
            replace = box.addButton("Replace it with yours", roles.DestructiveRole)
            acts[replace] = lambda: self.write(path)
        box.setDefaultButton(first)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.exec()
        acts.get(box.clickedButton(), lambda: None)()

    def _show_both(self, path: Path) -> None:
        """Keep what the file holds as a version, and compare the work with it; nothing is written yet."""

        def shown(opened: Opened) -> None:
            document = self.window.document
            if document is None:
                return
            at = datetime.now().replace(microsecond=0).isoformat(timespec="minutes")
            try:
                document.keep(put_on(document.work.kept, opened.work.design, "In the file", at))
            except LatticeError as error:
                self.window.complain(str(error))
                return
            self.compare()
            self.window.say("what the file holds is kept as a version, beside yours; saving asks again")

        background(self.window, lambda: open_any(path), shown, self.window.complain)

    def _offer_elsewhere(self, sentence: str) -> None:
        """Say why it was not saved, and offer another place."""
        box = Question(self.window, f"{sentence[:1].upper()}{sentence[1:]}.", "The work is still open, and not saved.")
        other = box.addButton("Save as…", QMessageBox.ButtonRole.AcceptRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.setDefaultButton(other)
        box.exec()
        if box.clickedButton() is other:
            self.save_as()
