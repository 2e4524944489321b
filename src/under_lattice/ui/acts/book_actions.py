"""The pattern book with an open work: what is put into it, and what is taken from it by the chooser or by dropping a leaf."""

from __future__ import annotations

import base64
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QMimeData, QSize, Qt, QUrl
from PySide6.QtGui import QDrag, QMouseEvent, QPixmap

from under_lattice.core.errors import LatticeError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.book import ENDING, BookLeaf, Shelved, leaves, put_in, read_leaf
from under_lattice.measure.facts import measure
from under_lattice.ui.dialogs.book_dialog import BookDialog
from under_lattice.ui.dialogs.chooser import Offer, PictureChooser, PictureTile
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.window.work_files import WorkFiles
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.pictures import Pictures, png_of
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.work.model import Design, Work
from under_lattice.work.recipes import cell_of, motif_of, palette_of, recipe_of, with_motif, with_palette, with_recipe

WHOLE = ("work", "cell")  # what is opened and not put on a layer
SMALL, STORED = (320, 216), (212, 248)  # px of pictures in the chooser, and in the book


class BookTile(PictureTile):
    """A leaf in the chooser; it can be dragged to another window, a folder, or onto the work."""

    path: Path | None = None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton and not self.rect().contains(event.position().toPoint()):
            small = QPixmap.fromImage(self.picture).scaledToWidth(96) if self.picture is not None else None
            drag = leaf_drag(self, self.path, small)
            if drag is not None:
                self.setDown(False)
                drag.exec(Qt.DropAction.CopyAction)
        else:
            super().mouseMoveEvent(event)


def leaf_drag(source: PictureTile, path: Path | None, picture: QPixmap | None) -> QDrag | None:
    """Return a drag of a leaf's file, if it has one."""
    if path is None:
        return None
    drag, data = QDrag(source), QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    drag.setMimeData(data)
    if picture is not None:
        drag.setPixmap(picture)
    return drag


class BookActions:
    """Acts between the book and the open work."""

    def __init__(self, studio: Studio, window: Host, files: WorkFiles, pictures: Pictures) -> None:
        self.studio, self.window, self.files, self.pictures = studio, window, files, pictures
        self.document, self.desk = studio.document, studio.desk

    def commands(self) -> dict[str, Callable[[], object]]:
        """Return the functions of the commands about the book."""
        return {"book_put": self.ask_put, "book_take": self.choose}

    # -- into the book ---------------------------------------------------------------------------
    def ask_put(self, kind: str = "recipe") -> None:
        """Ask what of the work goes into the book, and under which name."""
        design, layer = self.document.design, self.studio.layer
        names = {"work": design.name, "cell": f"{design.name}, cell"}
        chain = next((one for one in design.chains() if one.id == layer), None)
        if chain is not None:
            names |= {"recipe": f"{chain.name} recipe", "motif": chain.rules[0].noun(), "palette": f"{chain.name} colours"}
        dialog = BookDialog(names, kind if kind in names else "work", self.window, design.commission)
        dialog.put.connect(self.put)
        dialog.open()

    def put(self, kind: str, name: str, words: str) -> None:
        """Put something of the work into the book."""
        try:
            leaf = self.leaf_of(kind, name, words)
        except LatticeError as error:
            self.window.complain(str(error)[:1].upper() + str(error)[1:])
            return
        told = self.desk.told.emit
        background(self.window, partial(_put_with_picture, leaf), lambda path: told(f"{name} is in the book"), self.window.complain)

    def leaf_of(self, kind: str, name: str, words: str) -> BookLeaf:
        """Return a leaf of the work as it is.

        Raises
        ------
        LatticeError
            When there is no such thing in it.
        """
        design, layer, rule = self.document.design, self.studio.layer, self.studio.looked.rule
        if kind == "palette":
            return BookLeaf(kind="palette", name=name, words=words, colours=palette_of(design, layer, rule))
        if kind == "work":
            return BookLeaf(kind="work", name=name, words=words, work=self.document.work)
        if kind == "cell":
            evaluator = Evaluator()
            results = evaluator.design(design, only={layer})
            cell = measure(results[layer], evaluator, design.sheet).cell if layer in results else None
            return BookLeaf(kind="cell", name=name, words=words, work=Work(design=cell_of(design, cell)))
        made = recipe_of(design, layer) if kind == "recipe" else motif_of(design, layer)
        return BookLeaf(kind="recipe" if kind == "recipe" else "motif", name=name, words=words, work=Work(design=made))

    # -- out of the book -------------------------------------------------------------------------
    def choose(self) -> None:
        """Open the chooser of what can be put on the chosen layer, each with its picture on this work."""
        background(self.window, leaves, self._show, self.window.complain)

    def _show(self, read: tuple[tuple[Shelved, ...], tuple[str, ...]]) -> None:
        found, problems = [one for one in read[0] if one.leaf.kind not in WHOLE], read[1]
        if not found:
            self.desk.told.emit("the book has no recipe, motif or palette yet; put one in from the menu Work")
            return
        offers = [Offer(f"leaf:{one.path.name}", one.leaf.name, one.leaf.kind.capitalize(), one) for one in found]
        words = "What each would make of the chosen layer; drag one onto a work, or press it"
        words += f". Passed over: {'; '.join(problems)}" if problems else ""
        chooser = PictureChooser(self.window, self.pictures, "From the pattern book", words, offers, 4, QSize(176, 172), BookTile)
        chooser.setModal(False)
        chooser.chosen.connect(lambda one: self.take(one.leaf))
        for one in found:
            key = f"leaf:{one.path.name}"
            tile = chooser.tiles[key]
            assert isinstance(tile, BookTile)
            tile.path = one.path
            try:
                trial = self.applied(one.leaf)(self.document.design)
            except LatticeError as error:
                chooser.show_problem(key, str(error))
                continue
            self.pictures.want(key, partial(picture_of, trial, *SMALL))
        chooser.show()

    def applied(self, leaf: BookLeaf) -> Callable[[Design], Design]:
        """Return what a leaf does to a design, on the chosen layer."""
        layer, rule = self.studio.layer, self.studio.looked.rule
        if leaf.kind == "palette":
            return lambda design: with_palette(design, layer, leaf.colours, rule)
        assert leaf.work is not None
        other = leaf.work.design
        if leaf.kind == "motif":
            return lambda design: with_motif(design, layer, other)
        return lambda design: with_recipe(design, layer, other)

    def take(self, leaf: BookLeaf) -> None:
        """Put a leaf on the chosen layer, or open it when it is a whole work."""
        if leaf.kind in WHOLE and leaf.work is not None:
            if self.files.may_leave():
                self.window.show_new(leaf.work)
            return
        self.desk.edit(f"{leaf.kind.capitalize()}: {leaf.name}", self.applied(leaf))

    def drop(self, path: Path) -> None:
        """Take a leaf that was dropped on the work."""
        background(self.window, partial(read_leaf, path), self.take, self.window.complain)


def _put_with_picture(leaf: BookLeaf) -> Path:
    """Put a leaf into the book with a small picture of it."""
    if leaf.work is not None:
        picture = png_of(picture_of(leaf.work.design, *STORED))
        leaf = edited(leaf, picture=base64.b64encode(picture).decode("ascii"))
    return put_in(leaf)


def is_leaf(path: Path) -> bool:
    """Tell whether a file is a leaf of a book, by its name."""
    return path.suffix.lower() == ENDING
