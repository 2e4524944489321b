"""Bringing drawings and pictures into the open work: dropped on the window, pasted, or from a file."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QMimeData
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QFileDialog

from under_lattice.core.errors import FileError
from under_lattice.files.brought import PICTURE_ENDINGS, kind_of, with_brought
from under_lattice.files.recipe import open_any
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.work_files import WorkFiles
from under_lattice.ui.workers.background import background, bytes_of
from under_lattice.ui.workers.pictures import png_of
from under_lattice.work.model import Design

SVG = "image/svg+xml"
BROUGHT = (".svg", *PICTURE_ENDINGS)


class Bringing:
    """Adds what comes from outside as a layer of the open work."""

    def __init__(self, window: Host, files: WorkFiles) -> None:
        self.window, self.files = window, files

    def drop(self, path: Path) -> None:
        """Take a dropped file: a work, or a drawing with a recipe, is opened; other drawings and pictures become a layer."""
        document, ending = self.window.document, path.suffix.lower()
        if document is None or ending not in BROUGHT:
            self._open(path)
            return
        design = document.design

        def read() -> tuple[Design, tuple[str, ...]] | None:
            try:
                open_any(path)
            except FileError:
                return with_brought(design, bytes_of(path), path.name)
            return None  # it has a live work inside

        background(self.window, read, lambda found: self._open(path) if found is None else self._take(design, *found), self._refuse)

    def _open(self, path: Path) -> None:
        if self.files.may_leave():
            self.files.open_path(path)

    def ask(self) -> None:
        """Ask for a drawing or picture and bring it in."""
        kinds = "Drawings and pictures (*.svg *.png *.jpg *.jpeg *.webp)"
        chosen, _ = QFileDialog.getOpenFileName(self.window, "Import drawing or picture", str(self.files.folder()), kinds)
        if chosen:
            path = Path(chosen)
            self._bring(lambda: bytes_of(path), path.name)

    def paste(self) -> None:
        """Bring in what was copied: an SVG drawing, or a picture."""
        try:
            read = copied(QGuiApplication.clipboard().mimeData())
        except FileError as error:
            self._refuse(str(error))
        else:
            self._bring(read, "")

    def _bring(self, read: Callable[[], bytes], name: str) -> None:
        document = self.window.document
        if document is None:
            return
        design = document.design

        def bring() -> tuple[Design, tuple[str, ...]]:
            data = read()
            return with_brought(design, data, name or f"pasted{kind_of(data)}")

        background(self.window, bring, lambda found: self._take(design, *found), self._refuse)

    def _take(self, before: Design, after: Design, left_out: tuple[str, ...]) -> None:
        document, studio = self.window.document, self.window.studio
        if document is None or studio is None:
            return
        if document.design is not before:
            self._refuse("the work has changed meanwhile; bring it in once more")
            return
        document.apply("Bring in", after)
        layer = after.chains()[0]
        studio.choose_layer(layer.id)
        studio.chain.open(layer.rules[0].id)
        if left_out:
            listed = "\n".join(f"• {one}" for one in left_out)
            self.window.complain(f"{layer.name} was brought in. Left out:\n{listed}")

    def _refuse(self, sentence: str) -> None:
        self.window.complain(sentence)


def copied(mime: QMimeData) -> Callable[[], bytes]:
    """Return a function that gives what was copied as the bytes of a file; it may run in another thread.

    Raises
    ------
    FileError
    """
    if mime.hasFormat(SVG):
        data = bytes(mime.data(SVG).data())
        return lambda: data
    if mime.hasText() and mime.text().lstrip().startswith(("<svg", "<?xml")):
        text = mime.text()
        return text.encode
    image = mime.imageData() if mime.hasImage() else None
    if isinstance(image, QImage) and not image.isNull():
        return lambda: png_of(image)
    raise FileError("there is neither an SVG drawing nor a picture to paste; copy one first")
