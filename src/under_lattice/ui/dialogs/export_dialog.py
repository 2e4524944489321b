"""Export: SVG or PNG with their options; the work is done in a thread, with progress, and can be given up."""

from __future__ import annotations

import logging
import threading
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from under_lattice.core.errors import GivenUp, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.declare.dials import NumberDial
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import write_atomically
from under_lattice.output.png import PngOptions, size_in_px, write_png
from under_lattice.output.svg import SvgOptions, write_svg
from under_lattice.scene.tree import make_scene
from under_lattice.ui.dialogs.save_where import ask_where
from under_lattice.ui.dials.field import NumberField
from under_lattice.work.model import Work

WIDTH = NumberDial("Width", "Of the picture, in pixels.", least=1, most=60000, digits=0)
DPI = NumberDial("Density", "Dots in an inch.", least=1, most=10000, digits=0)
Options = SvgOptions | PngOptions
log = logging.getLogger(__name__)


class Export(QObject):
    """Writes one file in a thread of its own."""

    progress = Signal(float)
    done = Signal(str)
    failed = Signal(str)

    def __init__(self, work: Work, options: Options, path: Path) -> None:
        super().__init__()
        self.work, self.options, self.path = work, options, path
        self.stopped = False
        self._thread = threading.Thread(target=self._run, name="export", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """Give up; nothing is written."""
        self.stopped = True

    def wait(self) -> None:
        """Wait until the thread has ended."""
        self._thread.join(60)

    def _run(self) -> None:
        try:
            progress = Progress(lambda: self.stopped, lambda _, share: self.progress.emit(share))
            data = export_bytes(self.work, self.options, progress)
            progress.check()
            write_atomically(self.path, data)
        except GivenUp:
            self.failed.emit("")
        except LatticeError as error:
            self.failed.emit(str(error))
        except MemoryError:
            self.failed.emit("there is not enough memory for a picture of this size; choose a smaller one")
        except Exception as error:  # a fault of ours must not leave the dialog waiting
            log.exception("export failed")
            self.failed.emit(f"this could not be written ({type(error).__name__}); nothing was changed on the disk")
        else:
            self.done.emit(str(self.path))


def export_bytes(work: Work, options: Options, progress: Progress) -> bytes:
    """Return the file's bytes.

    Raises
    ------
    LatticeError, GivenUp
    """
    evaluator, design = Evaluator(), work.design
    scene = make_scene(design, evaluator.design(design, progress), evaluator, progress=progress)
    if isinstance(options, SvgOptions):
        return write_svg(scene, design.sheet, options, work, progress)
    return write_png(scene, design.sheet, options, work, progress)


class ExportDialog(QDialog):
    """Choose a format and its options, then a file."""

    finished_with = Signal(str)

    def __init__(self, work: Work, folder: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Export")
        self.work, self.folder = work, folder
        self.export: Export | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(10)
        self.formats = QButtonGroup(self)
        row = QHBoxLayout()
        for key, words in (("svg", "SVG: outlines for cutting, plotting, print"), ("png", "PNG: a picture in pixels")):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setProperty("format", key)
            button.setChecked(key == "svg")
            self.formats.addButton(button)
            row.addWidget(button)
        self.formats.buttonClicked.connect(self._show)
        column.addLayout(row)
        column.addWidget(self._pixel_fields())
        self.ground = QCheckBox("With the ground colour")
        self.ground.setChecked(bool(work.design.sheet.background))
        self.ground.setEnabled(bool(work.design.sheet.background))
        self.recipe = QCheckBox("With the recipe inside, so that it can be opened again as live work")
        self.recipe.setChecked(True)
        self.words = QLabel("")
        self.words.setObjectName("small")
        self.error = QLabel("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.hide()
        for part in (self.ground, self.recipe, self.words, self.error, self.bar):
            column.addWidget(part)
        column.addLayout(self._buttons())
        self._size = PngOptions()
        self._show()

    def _pixel_fields(self) -> QWidget:
        self.pixels = QWidget()
        grid = QGridLayout(self.pixels)
        grid.setContentsMargins(0, 0, 0, 0)
        self.width_field = NumberField(WIDTH, "px", 96, "Width")
        self.dpi_field = NumberField(DPI, "dpi", 96, "Density")
        grid.addWidget(QLabel("Width"), 0, 0)
        grid.addWidget(self.width_field, 0, 1)
        grid.addWidget(QLabel("Density"), 0, 2)
        grid.addWidget(self.dpi_field, 0, 3)
        self.width_field.entered.connect(lambda value: self._take(PngOptions(width=round(value))))
        self.dpi_field.entered.connect(lambda value: self._take(PngOptions(dpi=value)))
        for field in (self.width_field, self.dpi_field):
            field.refused.connect(self._refuse)
        return self.pixels

    def _buttons(self) -> QHBoxLayout:
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self._cancel)
        self.go = QPushButton("Choose a file…")
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

    def options(self) -> Options:
        """Return the chosen options."""
        clear, recipe = not self.ground.isChecked(), self.recipe.isChecked()
        if self.format == "svg":
            return SvgOptions(transparent=clear, recipe=recipe)
        return PngOptions(self._size.width, self._size.dpi, clear, recipe)

    def _take(self, size: PngOptions) -> None:
        self._size = size
        self._show()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)

    def _show(self) -> None:
        sheet = self.work.design.sheet
        self.pixels.setVisible(self.format == "png")
        width, dpi = size_in_px(sheet, self._size)
        self.width_field.show_value(width)
        self.dpi_field.show_value(dpi)
        high = max(1, round(sheet.height * width / sheet.width))
        real = f"{sheet.width:g} × {sheet.height:g} {sheet.unit}"  # noqa: RUF001
        self.words.setText(real if self.format == "svg" else f"{real} = {width} × {high} px at {dpi:.0f} dpi")  # noqa: RUF001
        self.adjustSize()

    def _choose(self) -> None:
        ending = self.format
        name = self.work.design.name.lower().replace(" ", "-") or "pattern"
        path = ask_where(self, "Export", self.folder / f"{name}.{ending}", f".{ending}", ending.upper())
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the file with the chosen options."""
        self.export = Export(self.work, self.options(), path)
        self.export.progress.connect(lambda share: self.bar.setValue(round(share * 1000)), Qt.ConnectionType.QueuedConnection)
        self.export.done.connect(self._done, Qt.ConnectionType.QueuedConnection)
        self.export.failed.connect(self._failed, Qt.ConnectionType.QueuedConnection)
        self.bar.setValue(0)
        self.bar.show()
        self.error.setText("")
        self.go.setEnabled(False)
        self.export.start()

    def _done(self, path: str) -> None:
        self.export = None
        self.finished_with.emit(path)
        self.accept()

    def _failed(self, sentence: str) -> None:
        self.export = None
        self.bar.hide()
        self.go.setEnabled(True)
        self.error.setText(sentence[:1].upper() + sentence[1:])

    def _cancel(self) -> None:
        if self.export is not None:
            self.export.stop()
        else:
            self.reject()

    def done(self, result: int) -> None:
        if self.export is not None:
            self.export.stop()
            self.export.wait()
        super().done(result)
