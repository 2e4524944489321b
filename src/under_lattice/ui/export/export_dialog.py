"""Export: for whom, as what, with which options, and what comes of it; written in a thread, with progress, and can be given up."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from under_lattice import output
from under_lattice.core.errors import InputError
from under_lattice.files.storage import stem_of
from under_lattice.many.versions import Version
from under_lattice.output import Format
from under_lattice.output.format import PURPOSES, Purpose
from under_lattice.ui.dialogs.save_where import ask_where, may_replace
from under_lattice.ui.export.choices import choices
from under_lattice.ui.export.export_preview import Preview, PreviewView, preview_of
from under_lattice.ui.export.exports_bar import FAULT, Export, ExportsBar
from under_lattice.ui.export.fault_line import FaultLine
from under_lattice.ui.export.many_rows import ManyRows
from under_lattice.ui.export.option_rows import OptionRows
from under_lattice.ui.export.writing import Order, beside, into_folder, one_file, size_words, write_pieces
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import ExportChoice, Work

LOOK_AFTER_MS = 250  # without a change, after which what would be written is looked at
FORM_WIDTH = 400


class ExportDialog(Dialog):
    """Choose for whom, a format and its options, then a file."""

    finished_with = Signal(str)
    written_to = Signal(object)  # the order
    chose = Signal(object)

    def __init__(
        self, work: Work, folder: Path, parent: QWidget, several: Sequence[Version] = (), line: ExportsBar | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Export {len(several)} versions" if several else "Export")
        self.work, self.folder = work, folder
        self.line = line or ExportsBar(parent)
        self.many = ManyRows(work, folder, several)
        self.moment = 0.0  # of the loop, 0..1, that goes out
        self.export: Export | None = None
        self.order: Order | None = None  # what was last written
        sheet = work.design.sheet
        self.chosen: dict[str, Format] = {kind.key(): kind.first(sheet) for kind in output.FORMATS}
        begins = self._as_before(work)
        self.pages: dict[str, OptionRows] = {}
        self._looking = QTimer(self, singleShot=True, interval=LOOK_AFTER_MS)
        self._looking.timeout.connect(self._look)
        self._lay_out()
        self._begin_with(begins)
        self._show_many()

    # -- parts -----------------------------------------------------------------------------------
    def _lay_out(self) -> None:
        whole = QVBoxLayout(self)
        whole.setContentsMargins(16, 16, 16, 16)
        whole.setSpacing(12)
        row = QHBoxLayout()
        row.setSpacing(16)
        row.addWidget(self._form())
        row.addLayout(self._seen(), 1)
        whole.addLayout(row, 1)
        self.error = Words("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.hide()
        whole.addWidget(self.error)
        whole.addWidget(self.bar)
        whole.addLayout(self._buttons())
        self.resize(px(880), px(620))

    def _form(self) -> QWidget:
        form = QWidget()
        form.setFixedWidth(px(FORM_WIDTH))
        column = QVBoxLayout(form)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.purposes, self.formats = QButtonGroup(self), QButtonGroup(self)
        served = {one for kind in output.FORMATS for one in kind.purposes}
        wanted = [(one, capital(one), words) for one, words in PURPOSES.items() if one in served]
        column.addLayout(choices("For", self.purposes, wanted, "purpose"))
        self.for_words = Words("")
        self.for_words.setObjectName("small")
        column.addWidget(self.for_words)
        kinds = [(kind.key(), kind.title, kind.words) for kind in output.FORMATS]
        column.addLayout(choices("As", self.formats, kinds, "format"))
        self.purposes.buttonClicked.connect(self._take_purpose)
        self.formats.buttonClicked.connect(self._take_format)
        options = QWidget()
        rows = QVBoxLayout(options)
        rows.setContentsMargins(0, 0, 8, 0)
        rows.addStretch(1)
        self._rows = rows
        scroll = QScrollArea()
        scroll.setWidget(options)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(scroll, 1)
        self.many.changed.connect(self._show_many)
        self.many.refused.connect(lambda sentence: self._refuse(capital(sentence)))
        column.addWidget(self.many)
        return form

    def _show_many(self) -> None:
        """Say what would be written, and what is wrong with it."""
        self._refuse("")
        self._sizes()
        versions = self.many.versions()
        self.go.setText("Choose a folder…" if len(versions) > 1 or versions[0].name else "Choose a file…")

    def _page(self, options: Format) -> OptionRows:
        """The options of a format, made when it is first chosen."""
        page = OptionRows(options, self.work.design)
        page.turned.connect(self._turn)
        page.refused.connect(self._refuse)
        self._rows.insertWidget(self._rows.count() - 1, page)
        return page

    def _seen(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(6)
        self.view = PreviewView()
        column.addWidget(self.view, 1)
        self.words = Words("")
        self.words.setObjectName("small")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.faults = FaultLine(self.view, self.options)
        self.faults.mended.connect(self._turn)
        column.addWidget(self.faults)
        return column

    def _buttons(self) -> QHBoxLayout:
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self._cancel)
        self.later = QPushButton("Go on working")
        self.later.setToolTip("Close this page; the files are written meanwhile, and the window shows how far they are")
        self.later.setAutoDefault(False)
        self.later.clicked.connect(self._go_on_working)
        self.later.hide()
        self.go = QPushButton("")
        self.go.setObjectName("primary")
        self.go.clicked.connect(self._choose)
        self.go.setDefault(True)
        buttons.addWidget(self.cancel)
        buttons.addWidget(self.later)
        buttons.addWidget(self.go)
        return buttons

    # -- what is chosen --------------------------------------------------------------------------
    def _as_before(self, work: Work) -> str:
        """Take the options of the last export of this work; returns the key of its format, or of the first."""
        last = work.export
        if last is None or last.ending not in self.chosen:
            return output.FORMATS[0].key()
        kept = self.chosen[last.ending].with_options(last.options)
        self.chosen[last.ending] = kept if kept.layer in work.design.tree.by_id else kept.turned("layer", "")
        return last.ending

    def _begin_with(self, key: str) -> None:
        """Show a format, among those of the first purpose it is for."""
        purposes = output.BY_KEY[key].purposes if key in output.BY_KEY else ()
        for button in self.purposes.buttons():
            button.setChecked(button.property("purpose") == next(iter(purposes), "drawing"))
        self._offer(key)

    def begin_for(self, purpose: Purpose) -> None:
        """Show what there is for a purpose, unless the last export was for it."""
        if purpose in output.BY_KEY[self.format].purposes:
            return
        for button in self.purposes.buttons():
            if button.property("purpose") == purpose:
                button.setChecked(True)
                self._take_purpose(button)

    @property
    def purpose(self) -> Purpose:
        """For whom it is."""
        button = self.purposes.checkedButton()
        return button.property("purpose") if button is not None else "drawing"

    @property
    def format(self) -> str:
        """The key of the chosen format."""
        button = self.formats.checkedButton()
        return str(button.property("format")) if button is not None else "svg"

    def options(self) -> Format:
        """Return the chosen format with its options."""
        return self.chosen[self.format]

    def _take_format(self, _: QAbstractButton) -> None:
        self._refuse("")
        self._show()

    def _take_purpose(self, _: QAbstractButton) -> None:
        """Offer what is for somebody else, with good first values."""
        self._refuse("")
        fitting = [kind for kind in output.FORMATS if self.purpose in kind.purposes]
        for kind in fitting:
            self.chosen[kind.key()] = kind.first(self.work.design.sheet, self.purpose)
        self._offer(fitting[0].key())

    def _offer(self, key: str) -> None:
        kinds = {kind.key(): kind for kind in output.FORMATS}
        for button in self.formats.buttons():
            kind = kinds[button.property("format")]
            button.setVisible(self.purpose in kind.purposes or not kind.purposes)
            button.setChecked(kind.key() == key)
        self.for_words.setText(capital(PURPOSES[self.purpose]))
        self._show()

    def _turn(self, name: str, value: object) -> None:
        self._refuse("")
        try:
            self.chosen[self.format] = self.options().turned(name, value)
        except InputError as error:
            self._refuse(error.message)
        self._show()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)

    def _show(self, _: object = None) -> None:
        if self.view.preview is not None and self.view.preview.options.key() != self.format:
            self.view.show_preview(None)  # of another format
        if self.format not in self.pages:
            self.pages[self.format] = self._page(self.options())
        for key, page in self.pages.items():
            page.setVisible(key == self.format)
        options = self.options()
        self.pages[self.format].show_options(options)
        self.many.show_for(options)
        size = options.size_words(self.work.design.sheet) if options.part == "the sheet" else ""
        self.words.setText("\n".join([size, *self._notes(options)]).strip())
        self.faults.show_faults()
        self._looking.start()

    def _notes(self, options: Format) -> tuple[str, ...]:
        """What there is to know of the file; of a work that moves also which moment it is of."""
        design, own = self.work.design, options.notes(self.work.design)
        if not design.motions or "frames" in options.needs:
            return own
        return (f"As it is at {self.moment * design.loop.seconds:.2f} s of its loop; the purpose Film takes all of it.", *own)

    # -- what comes of it ------------------------------------------------------------------------
    def _look(self) -> None:
        work, options, moment = self.work, self.options(), self.moment

        def early(preview: Preview) -> None:
            worker().hand(self, lambda: self._show_preview(preview) if options is self.options() else None)

        worker().ask(
            Job(f"preview {id(self)}", Urgency.LOOKED_AT, lambda progress: preview_of(work, options, progress, moment, early),
                self._show_preview, self._no_preview, owner=self, fault=FAULT)
        )  # fmt: skip

    def _no_preview(self, sentence: str) -> None:
        if sentence:
            self.view.show_nothing()
            self.faults.show_faults()
            self._refuse(capital(sentence))

    def _show_preview(self, preview: Preview) -> None:
        self.view.show_preview(preview)
        self.pages[self.format].show_options(self.options(), preview.page)
        said = [preview.options.size_words(preview.page)]
        if preview.bytes:
            said[0] += f"; the file has {size_words(preview.bytes)}"
        said += preview.said
        self.words.setText("\n".join([*said, *self._notes(preview.options)]))
        self.faults.show_faults()

    # -- writing ---------------------------------------------------------------------------------
    def _choose(self) -> None:
        versions = self.many.versions()
        if not self._sizes():
            return
        if len(versions) > 1 or versions[0].name:
            folder = QFileDialog.getExistingDirectory(self, "Export all into", str(self.folder))
            if folder:
                self.write_all(Path(folder))
            return
        ending = self.options().ending
        name = stem_of(self.work.design.name) + ("-cell" if self.options().part == "the cell" else "")
        path = ask_where(self, "Export", self.folder / f"{name}.{ending}", f".{ending}", self.options().title)
        if path is not None and self._may_write(path):
            self.write(path)

    def _sizes(self) -> list[Format]:
        """The options, and those of further widths; nothing where these are refused."""
        try:
            return self.many.sizes(self.options())
        except InputError as error:
            self._refuse(capital(error.message))
            return []

    def _may_write(self, path: Path) -> bool:
        """Ask about files of further widths that are there already."""
        there = [one.name for one in beside(path, self._sizes())[1:] if one.exists()]
        return not there or may_replace(self, ", ".join(there))

    def write(self, path: Path) -> None:
        """Write the file with the chosen options, and those of further widths beside it."""
        sizes = self._sizes()
        if sizes:
            self._begin(one_file(path, sizes))

    def write_all(self, folder: Path) -> None:
        """Write each of several works into a folder, under names that are not taken there."""
        sizes = self._sizes()
        if sizes:
            self._begin(into_folder(folder, stem_of(self.work.design.name), self.many.made_of(), sizes))

    def _begin(self, order: Order) -> None:
        moment, pieces = self.moment, order.pieces(self.work)
        self.order, title = order, order.title if len(pieces) == 1 else f"{len(pieces)} files, {order.title}"
        self.bar.setValue(0)
        self.bar.show()
        self.error.setText("")
        self.go.setEnabled(False)
        self.later.show()
        written = lambda progress: write_pieces(pieces, moment, progress)  # noqa: E731
        self.export = Export(title, written, self._done, self._failed, self._told)
        self.line.add(self.export)
        before = self.line.waits_for(self.export)
        self.bar.setFormat(f"waits for {before}" if before else "%p%")

    def _told(self, share: float) -> None:
        self.bar.setFormat("%p%")
        self.bar.setValue(round(share * 1000))

    def _done(self, words: str) -> None:
        self.export = None
        self._note()
        self.finished_with.emit(words)
        self.accept()

    def _note(self) -> None:
        """Let it be known what was chosen, and where it goes."""
        if self.order is not None:
            self.written_to.emit(self.order)
        self.chose.emit(ExportChoice(ending=self.format, options=self.options().model_dump(mode="json")))

    def _go_on_working(self) -> None:
        """Close the page; what it writes goes on."""
        export, self.export = self.export, None
        if export is not None:
            self._note()
            self.line.leave(export)
            self.accept()

    def _failed(self, sentence: str) -> None:
        self.export = None
        self.bar.hide()
        self.later.hide()
        self.go.setEnabled(True)
        self.error.setText(sentence[:1].upper() + sentence[1:])

    def _cancel(self) -> None:
        if self.export is not None:
            self.line.stop(self.export)
        else:
            self.reject()

    def done(self, result: int) -> None:
        worker().drop(self)  # looking
        export, self.export = self.export, None
        if export is not None:  # it was closed while it wrote
            export.done, export.failed, export.told = lambda _: None, lambda _: None, lambda _: None
            self.line.stop(export)
        super().done(result)
