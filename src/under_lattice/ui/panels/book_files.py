"""The pattern book as files: leaves brought in, copied out, called otherwise, taken out and put back."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from under_lattice.declare.frozen import edited
from under_lattice.files.book import ENDING, Shelved, brought, put_back, put_in, rewrite, take_out
from under_lattice.ui.dialogs.book_dialog import BookDialog
from under_lattice.ui.look.words import on_button
from under_lattice.ui.workers.background import background


class BookFiles(QObject):
    """Acts on the leaves of the person's own book, off the interface thread."""

    changed = Signal()
    told = Signal(str)

    def __init__(self, page: QWidget) -> None:
        super().__init__(page)
        self.page = page
        self.taken: Shelved | None = None  # what was taken out last

    def leaf_menu(self, menu: QMenu, one: Shelved) -> None:
        """Put what can be done with a leaf into a menu."""
        menu.addAction("Name and words…", partial(self.rename, one))
        menu.addAction("Copy into a folder…", partial(self._ask_folder, (one,)))
        menu.addAction("Take out of the book", partial(self.take_out, one))

    def book_menu(self, menu: QMenu, own: tuple[Shelved, ...]) -> None:
        """Put what can be done with the book into a menu."""
        menu.addAction("Bring leaves in…", self._ask_files)
        menu.addAction("Bring in all of a folder…", self._ask_source)
        copy = menu.addAction(f"Copy your {len(own)} into a folder…", partial(self._ask_folder, own))
        copy.setEnabled(bool(own))
        if self.taken is not None:
            menu.addAction(on_button(f"Put {self.taken.leaf.name} back"), self.put_back)

    def _ask_files(self) -> None:
        chosen, _ = QFileDialog.getOpenFileNames(self.page, "Bring leaves in", "", f"Leaves (*{ENDING})")
        self.bring([Path(one) for one in chosen])

    def _ask_source(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self.page, "Bring in all leaves of a folder")
        self.bring([Path(chosen)] if chosen else [])

    def bring(self, paths: list[Path]) -> None:
        """Copy leaves, and those in folders, into the book."""
        if paths:
            background(self, partial(brought, paths), self._brought, self.told.emit)

    def _brought(self, result: tuple[int, tuple[str, ...]]) -> None:
        count, problems = result
        self.changed.emit()
        if problems or not count:
            self.told.emit(f"{count} brought in. Passed over:\n" + "\n".join(problems or ("there is no leaf in it",)))

    def _ask_folder(self, own: tuple[Shelved, ...]) -> None:
        chosen = QFileDialog.getExistingDirectory(self.page, "Copy into a folder")
        if chosen:
            self.copy_to(own, Path(chosen))

    def copy_to(self, own: tuple[Shelved, ...], where: Path) -> None:
        """Write leaves into a folder, under names that are not taken there."""
        background(self, lambda: [put_in(one.leaf, where) for one in own], lambda _: None, self.told.emit)

    def rename(self, one: Shelved) -> None:
        """Ask for another name and other words."""
        dialog = BookDialog({one.leaf.kind: one.leaf.name}, one.leaf.kind, self.page, one.leaf.words)
        dialog.go.setText("Keep")

        def take(_: str, name: str, words: str) -> None:
            leaf = edited(one.leaf, name=name, words=words)
            background(self, partial(rewrite, one.path, leaf), lambda _: self.changed.emit(), self.told.emit)

        dialog.put.connect(take)
        dialog.open()

    def take_out(self, one: Shelved) -> None:
        """Take a leaf out of the book; the menu of the book puts it back."""
        self.taken = one
        background(self, partial(take_out, one.path), lambda _: self.changed.emit(), self.told.emit)

    def put_back(self) -> None:
        """Put the leaf that was taken out last back."""
        one, self.taken = self.taken, None
        if one is not None:
            background(self, partial(put_back, one.path), lambda _: self.changed.emit(), self.told.emit)
