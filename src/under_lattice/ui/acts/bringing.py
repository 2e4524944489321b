"""Bringing drawings and pictures in, dropped, pasted or from files; into the open work, or onto a sheet of their own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QMimeData
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QFileDialog

from under_lattice.core.errors import FileError, LatticeError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.frozen import edited
from under_lattice.files.bounded import read_bytes
from under_lattice.files.brought import PICTURE_ENDINGS, kind_of, with_brought
from under_lattice.files.recipe import open_any
from under_lattice.library import EMPTY, blank
from under_lattice.ui.dialogs.brought_dialog import SIDE, Brought, BroughtDialog, drawn_elsewhere
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.work_files import WorkFiles
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.pictures import png_of
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.work.model import Design, Work

SVG = "image/svg+xml"
BROUGHT = (".svg", *PICTURE_ENDINGS)
MOST = 40  # files at once
NOTHING = "there is neither an SVG drawing nor a picture to paste; copy one first"
Read = Callable[[], bytes]


@dataclass(frozen=True)
class Answer:
    """What came of bringing files in: the design with their layers, how many there are, and what there is to tell."""

    design: Design
    count: int
    told: list[Brought]


def with_all(design: Design, files: list[tuple[str, Read]], progress: Progress = QUIET) -> Answer:
    """Return a design with all files that can be read as layers, and what was left out; one that is refused stops no other.

    Raises
    ------
    GivenUp
    """
    told, count = [], 0
    for name, read in files[:MOST]:
        try:
            data = read()
            name = name or f"pasted{kind_of(data)}"
            design, left_out = with_brought(design, data, name, progress)
        except LatticeError as error:
            told.append(Brought(name or "What was copied", refused=str(error)))
            continue
        count += 1
        if left_out:
            alone = edited(design, layers=(design.layers[0],))
            told.append(Brought(name, left_out, drawn_elsewhere(data), picture_of(alone, 2 * SIDE, 2 * SIDE)))
    told += [Brought(name, refused=f"at most {MOST} files are brought in at once") for name, _ in files[MOST:]]
    return Answer(design, count, told)


def _called(files: list[tuple[str, Read]], title: str) -> str:
    """What is read, in words."""
    first = files[0][0] or title
    return first if len(files) == 1 else f"{first} and {len(files) - 1} more"


class Bringing:
    """Adds what comes from outside as layers of the open work, or begins a sheet with it."""

    def __init__(self, window: Host, files: WorkFiles) -> None:
        self.window, self.files = window, files

    def drop(self, paths: list[Path]) -> None:
        """Take dropped files: a work, or a drawing with a recipe, is opened; other drawings and pictures become layers."""
        drawings = [path for path in paths if path.suffix.lower() in BROUGHT]
        if len(drawings) < len(paths) or not drawings:
            self._open(next(path for path in paths if path not in drawings))
        elif len(drawings) == 1:
            self._open_or_bring(drawings[0])
        else:
            self._bring_files(drawings)

    def _open_or_bring(self, path: Path) -> None:
        def has_work() -> bool:
            try:
                open_any(path)
            except FileError:
                return False
            return True

        def go_on(found: bool) -> None:
            if found:
                self._open(path)
            else:
                self._bring_files([path])

        background(self.window, has_work, go_on, self._refuse)

    def _open(self, path: Path) -> None:
        if self.files.may_leave():
            self.files.open_path(path)

    def ask(self) -> None:
        """Ask for drawings and pictures and bring them in."""
        kinds = "Drawings and pictures (*.svg *.png *.jpg *.jpeg *.webp *.tif *.tiff)"
        chosen, _ = QFileDialog.getOpenFileNames(self.window, "Import drawing or picture", str(self.files.folder()), kinds)
        if chosen:
            self._bring_files([Path(one) for one in chosen])

    def paste(self) -> None:
        """Bring in what was copied: an SVG drawing, or a picture."""
        try:
            read = copied(QGuiApplication.clipboard().mimeData())
        except FileError as error:
            self._refuse(str(error))
        else:
            self._bring([("", read)], "Pasted")

    def _bring_files(self, paths: list[Path]) -> None:
        self._bring([(path.name, lambda path=path: read_bytes(path)) for path in paths], paths[0].stem)  # type: ignore[misc]

    def _bring(self, files: list[tuple[str, Read]], title: str) -> None:
        document = self.window.document
        design = document.design if document is not None else edited(blank(EMPTY).design, name=title[:80])
        read = lambda progress: with_all(design, files, progress)  # noqa: E731
        self.files.reading.read(_called(files, title), read, lambda answer: self._take(design, answer, files, title), self._refuse)

    def _take(self, before: Design, answer: Answer, files: list[tuple[str, Read]], title: str) -> None:
        document = self.window.document
        if answer.count and document is None:
            self.window.show_new(Work(design=answer.design))
        elif answer.count and document is not None:
            if document.design is not before:  # edited while they were read: once more, for the work as it is now
                self._bring(files, title)
                return
            document.apply("Bring in", answer.design)
        if answer.count and self.window.studio is not None:
            layer = answer.design.layers[0]
            self.window.studio.choose_layer(layer.id)
            self.window.studio.chain.open(layer.every_rule[0].id)
        if answer.told:
            BroughtDialog(answer.told, answer.count, self.window).open()

    def _refuse(self, sentence: str) -> None:
        if sentence:  # it was not stopped
            self.window.complain(sentence)


def copied(mime: QMimeData | None) -> Read:
    """Return a function that gives what was copied as the bytes of a file; it may run in another thread.

    Raises
    ------
    FileError
    """
    if mime is None:
        raise FileError(NOTHING)
    if mime.hasFormat(SVG):
        data = bytes(mime.data(SVG).data())
        return lambda: data
    if mime.hasText() and mime.text().lstrip().startswith(("<svg", "<?xml")):
        text = mime.text().encode("utf-8", "replace")
        return lambda: text
    image = mime.imageData() if mime.hasImage() else None
    if isinstance(image, QImage) and not image.isNull():
        return lambda: png_of(image)
    raise FileError(NOTHING)
