"""The open work: its design, undo without end, its file, and whether it is saved."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from under_lattice.declare.frozen import edited
from under_lattice.work.model import Design, Work


class Document(QObject):
    """Swaps whole designs; they share all that did not change, so keeping them all costs little.

    Edits made under one `visit` (one stay in a field, one drag) are one step of undo.
    """

    changed = Signal()
    status_changed = Signal()

    def __init__(self, work: Work, path: Path | None = None) -> None:
        super().__init__()
        self.work = work
        self.path = path
        self._undo: list[tuple[str, Design]] = []
        self._redo: list[tuple[str, Design]] = []
        self._redo_before: list[tuple[str, Design]] = []
        self._visit: object | None = None
        self._saved: Design | None = work.design

    @property
    def design(self) -> Design:
        """The present design."""
        return self.work.design

    @property
    def modified(self) -> bool:
        """Whether there is unsaved work."""
        return self.design is not self._saved

    @property
    def can_undo(self) -> str:
        """What undo would take back, or nothing."""
        return self._undo[-1][0] if self._undo else ""

    @property
    def can_redo(self) -> str:
        """What redo would bring back, or nothing."""
        return self._redo[-1][0] if self._redo else ""

    def apply(self, words: str, design: Design, visit: object | None = None) -> None:
        """Take over a new design; `words` say in the menu what was done."""
        if design == self.design:
            return
        if visit is None or visit is not self._visit:
            self._undo.append((words, self.design))
            self._redo_before = self._redo
            self._redo = []
        self._visit = visit
        self._swap(design)

    def give_up(self, visit: object) -> None:
        """Take back all that was done under `visit`, leaving no trace."""
        if visit is not None and visit is self._visit and self._undo:
            _, before = self._undo.pop()
            self._redo = self._redo_before
            self._visit = None
            self._swap(before)

    def end_visit(self) -> None:
        """Begin a new step of undo with the next edit."""
        self._visit = None

    def undo(self) -> None:
        """Go back one step."""
        if self._undo:
            words, before = self._undo.pop()
            self._redo.append((words, self.design))
            self._visit = None
            self._swap(before)

    def redo(self) -> None:
        """Go forward one step."""
        if self._redo:
            words, after = self._redo.pop()
            self._undo.append((words, self.design))
            self._visit = None
            self._swap(after)

    def saved_as(self, path: Path, design: Design) -> None:
        """Take note that a file holds a design, the present one or one of before."""
        self.path = path
        self._saved = design
        self.status_changed.emit()

    def never_saved(self) -> None:
        """Take the work as one that no file holds yet."""
        self._saved = None

    def _swap(self, design: Design) -> None:
        self.work = edited(self.work, design=design)
        self.changed.emit()
        self.status_changed.emit()
