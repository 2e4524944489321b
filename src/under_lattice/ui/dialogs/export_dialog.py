"""Export: a format with its options; the work is done in a thread, with progress, and can be given up."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from under_lattice import output
from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.files.saving import write_atomically
from under_lattice.files.storage import free_path, stem_of
from under_lattice.output import Format
from under_lattice.output.page import job_of
from under_lattice.ui.dialogs.option_rows import OptionRows
from under_lattice.ui.dialogs.save_where import ask_where
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.words import Words
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import ExportChoice, Work

FAULT = "this could not be written ({}); nothing was changed on the disk"


def export_bytes(work: Work, options: Format, progress: Progress) -> bytes:
    """Return the file's bytes.

    Raises
    ------
    LatticeError, GivenUp
    """
    chosen, job = job_of(work, options, progress)
    return chosen.write(job)


Several = tuple[tuple[str, Work], ...]  # works by their names


class ExportDialog(Dialog):
    """Choose a format and its options, then a file."""

    finished_with = Signal(str)
    chose = Signal(object)
    _told = Signal(str, float)

    def __init__(self, work: Work, folder: Path, parent: QWidget, several: Several = ()) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Export {len(several)} versions" if several else "Export")
        self.work, self.folder, self.several = work, folder, several
        self.export: Job | None = None
        self.chosen: dict[str, Format] = {kind.ending: kind() for kind in output.FORMATS}
        begins = self._as_before(work)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(10)
        self.formats = QButtonGroup(self)
        row = QHBoxLayout()
        for kind in output.FORMATS:
            button = QPushButton(f"{kind.title}: {kind.words}")
            button.setCheckable(True)
            button.setAutoDefault(False)  # Enter goes on to the file
            button.setProperty("format", kind.ending)
            button.setChecked(kind.ending == begins)
            self.formats.addButton(button)
            row.addWidget(button)
        self.formats.buttonClicked.connect(self._show)
        column.addLayout(row)
        self.pages: dict[str, OptionRows] = {}
        for ending, options in self.chosen.items():
            self.pages[ending] = page = OptionRows(options, work.design.sheet)
            page.turned.connect(self._turn)
            page.refused.connect(self._refuse)
            column.addWidget(page)
        self.words = Words("")
        self.words.setObjectName("small")
        self.error = Words("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.hide()
        self._told.connect(lambda _, share: self.bar.setValue(round(share * 1000)), Qt.ConnectionType.QueuedConnection)
        for part in (self.words, self.error, self.bar):
            column.addWidget(part)
        column.addLayout(self._buttons())
        self._show()

    def _as_before(self, work: Work) -> str:
        """Take the options of the last export of this work; returns the ending of its format, or of the first."""
        last = work.export
        if last is None or last.ending not in self.chosen:
            return output.FORMATS[0].ending
        for name, value in last.options.items():
            try:
                self.chosen[last.ending] = self.chosen[last.ending].turned(name, value)
            except (InputError, KeyError):  # an option of another version
                continue
        return last.ending

    def _buttons(self) -> QHBoxLayout:
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self._cancel)
        self.go = QPushButton("Choose a folder…" if self.several else "Choose a file…")
        self.go.setObjectName("primary")
        self.go.clicked.connect(self._choose)
        self.go.setDefault(True)
        buttons.addWidget(self.cancel)
        buttons.addWidget(self.go)
        return buttons

    @property
    def format(self) -> str:
        """The chosen format: svg or png."""
        button = self.formats.checkedButton()
        return str(button.property("format")) if button is not None else "svg"

    def options(self) -> Format:
        """Return the chosen format with its options."""
        return self.chosen[self.format]

    def _turn(self, name: str, value: object) -> None:
        self._refuse("")
        try:
            self.chosen[self.format] = self.options().turned(name, value)
        except InputError as error:
            self._refuse(error.message)
        self._show()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)

    def _show(self) -> None:
        for ending, page in self.pages.items():
            page.setVisible(ending == self.format)
        self.pages[self.format].show_options(self.options())
        options, design = self.options(), self.work.design
        self.words.setText("\n".join([options.size_words(design.sheet), *options.notes(design)]))
        self.adjustSize()

    def _choose(self) -> None:
        if self.several:
            folder = QFileDialog.getExistingDirectory(self, "Export all into", str(self.folder))
            if folder:
                self.write_all(Path(folder))
            return
        ending = self.format
        name = stem_of(self.work.design.name)
        path = ask_where(self, "Export", self.folder / f"{name}.{ending}", f".{ending}", self.options().title)
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the file with the chosen options."""
        work, options = self.work, self.options()

        def written(progress: Progress) -> str:
            data = export_bytes(work, options, progress)
            progress.check()
            write_atomically(path, data)
            return path.name

        self._begin(f"export {path}", written)

    def write_all(self, folder: Path) -> None:
        """Write each of several works into a folder, under names that are not taken there."""
        works, options = self.several, self.options()

        def written(progress: Progress) -> str:
            for k, (name, work) in enumerate(works):
                progress.step(k / len(works))
                path = free_path(folder, f"{stem_of(work.design.name)}-{stem_of(name)}", f".{options.ending}")
                write_atomically(path, export_bytes(work, options, replace(progress, tell=lambda *_: None)))
            return f"{len(works)} files into {folder.name}"

        self._begin(f"export {folder}", written)

    def _begin(self, slot: str, written: Callable[[Progress], str]) -> None:
        self.bar.setValue(0)
        self.bar.show()
        self.error.setText("")
        self.go.setEnabled(False)
        job = Job(slot, Urgency.REST, written, self._done, self._failed, self._told.emit, owner=self, fault=FAULT)
        self.export = worker().ask(job)

    def _done(self, path: str) -> None:
        self.export = None
        self.chose.emit(ExportChoice(ending=self.format, options=self.options().model_dump(mode="json")))
        self.finished_with.emit(path)
        self.accept()

    def _failed(self, sentence: str) -> None:
        self.export = None
        self.bar.hide()
        self.go.setEnabled(True)
        self.error.setText(sentence[:1].upper() + sentence[1:])

    def _cancel(self) -> None:
        if self.export is not None:
            worker().cancel(self.export)
        else:
            self.reject()

    def done(self, result: int) -> None:
        if self.export is not None:
            worker().drop(self)
        super().done(result)
