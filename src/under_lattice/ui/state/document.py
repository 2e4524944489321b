"""The open work: its design, undo without end, its shelf of kept versions, its file, and whether it is saved."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from under_lattice.declare.frozen import edited
from under_lattice.files.saving import Seen
from under_lattice.loop.moment import at_moment
from under_lattice.loop.turning import in_step, turned_at
from under_lattice.work.model import UNTITLED, Design, ExportChoice, Shelf, StripOrder, Work
from under_lattice.work.shelf import with_those_since

OPENED = "As it was opened"


@dataclass(frozen=True, eq=False)
class Moment:
    """A state of the work after one step.

    Attributes
    ----------
    words : str
        What was done.
    design : Design
    shelf : (Shelf, Shelf) or None
        The shelf before and after, where the step changed that and not the design.
    """

    words: str
    design: Design
    shelf: tuple[Shelf, Shelf] | None = None


class Document(QObject):
    """Swaps whole designs; they share all that did not change, so keeping them all costs little.

    Edits made under one `visit` (one stay in a field, one drag) are one step of undo. What is kept is no step and never lost by
    undo; to remove, rename or reorder what is kept is a step of its own, which leaves the design alone.
    """

    changed = Signal()
    status_changed = Signal()
    shelf_changed = Signal()

    def __init__(self, work: Work, path: Path | None = None, seen: Seen | None = None) -> None:
        super().__init__()
        self.work = work
        self.path = path
        self.moment: Callable[[], float] = float  # of the loop, 0..1, that is shown
        self.seen = seen  # what its file held when it was opened or saved
        self.moments: list[Moment] = [Moment(OPENED, work.design)]
        self.at = 0  # the present one of the moments
        self._put_by: list[Moment] = []  # what could be done again before the last step
        self._visit: object | None = None
        self._saved: Work | None = work
        self._seen_at: tuple[Design, float, Design] | None = None

    @property
    def design(self) -> Design:
        """The present design."""
        return self.work.design

    def seen_at(self, time: float) -> Design:
        """Return the present design as it is at a time of the loop 0..1, waves left out; worked out once for all who ask."""
        design = self.design
        if not design.motions:
            return design
        if self._seen_at is None or self._seen_at[0] is not design or self._seen_at[1] != time:
            self._seen_at = design, time, at_moment(design, time, waves=False)
        return self._seen_at[2]

    @property
    def modified(self) -> bool:
        """Whether there is unsaved work; an open strip alone is none."""
        saved = self._saved
        return saved is None or self.design is not saved.design or self.work.kept != saved.kept

    @property
    def can_undo(self) -> str:
        """What undo would take back, or nothing."""
        return self.moments[self.at].words if self.at else ""

    @property
    def can_redo(self) -> str:
        """What redo would bring back, or nothing."""
        return self.moments[self.at + 1].words if self.at + 1 < len(self.moments) else ""

    def apply(self, words: str, design: Design, visit: object | None = None, whole: bool = False) -> None:
        """Take over a new design; `words` say in the menu what was done.

        What moves and was turned is hung at the moment that is shown, unless the `whole` work is exchanged.
        """
        if design.motions:
            design = in_step(design) if whole else turned_at(self.design, design, self.moment())
        if design == self.design:
            return
        if visit is None or visit is not self._visit:
            self._begin(Moment(words, design))
        else:
            self.moments[self.at] = replace(self.moments[self.at], design=design)
        self._visit = visit
        self._swap(design)

    def _begin(self, moment: Moment) -> None:
        self._put_by = self.moments[self.at + 1 :]
        self.moments = [*self.moments[: self.at + 1], moment]
        self.at += 1

    def give_up(self, visit: object) -> None:
        """Take back all that was done under `visit`, leaving no trace."""
        if visit is not None and visit is self._visit and self.at:
            self.moments = [*self.moments[: self.at], *self._put_by]
            self.at -= 1
            self._visit = None
            self._swap(self.moments[self.at].design)

    def end_visit(self) -> None:
        """Begin a new step of undo with the next edit."""
        self._visit = None

    def undo(self) -> None:
        """Go back one step."""
        self.go_to(self.at - 1)

    def redo(self) -> None:
        """Go forward one step."""
        self.go_to(self.at + 1)

    def go_to(self, at: int) -> None:
        """Go to any moment; what came after it stays until something new is done."""
        if not 0 <= at < len(self.moments) or at == self.at:
            return
        shelf = self.work.kept
        for step in self.moments[at + 1 : self.at + 1][::-1]:
            shelf = with_those_since(shelf, *step.shelf) if step.shelf is not None else shelf
        for step in self.moments[self.at + 1 : at + 1]:
            shelf = with_those_since(shelf, *step.shelf[::-1]) if step.shelf is not None else shelf
        self.at, self._visit = at, None
        if shelf != self.work.kept:
            self._reshelve(shelf)
        if self.moments[at].design is not self.design:
            self._swap(self.moments[at].design)
        else:
            self.status_changed.emit()

    def keep(self, shelf: Shelf) -> None:
        """Take over a shelf with one more version; no undo takes it away."""
        self._reshelve(shelf)
        self.status_changed.emit()

    def reshelve(self, words: str, shelf: Shelf) -> None:
        """Take over a shelf with versions removed, renamed or put in another order, as a step of its own."""
        if shelf == self.work.kept:
            return
        self._begin(Moment(words, self.design, (self.work.kept, shelf)))
        self._visit = None
        self._reshelve(shelf)
        self.status_changed.emit()

    def lay_strip(self, strip: StripOrder | None) -> None:
        """Take note of the test strip that is open; no step of undo."""
        self.work = edited(self.work, strip=strip)

    def exported(self, choice: ExportChoice) -> None:
        """Take note of how it was exported; no step of undo, and nothing that must be saved."""
        self.work = edited(self.work, export=choice)

    def saved_as(self, path: Path, work: Work, seen: Seen) -> None:
        """Take note that a file holds a work, the present one or one of before."""
        self.path, self.seen = path, seen
        self._saved = work
        self.status_changed.emit()

    def call(self, name: str, was: str = UNTITLED) -> None:
        """Give the work another name at every moment that has the name `was`, so that undo leaves it; no step of undo."""
        if name == was:
            return
        designs = {id(one.design): one.design for one in (*self.moments, *self._put_by)}  # steps may share one
        new = {key: edited(one, name=name) if one.name == was else one for key, one in designs.items()}

        def called(moment: Moment) -> Moment:
            return replace(moment, design=new[id(moment.design)])

        self.moments = [called(moment) for moment in self.moments]
        self._put_by = [called(moment) for moment in self._put_by]
        if self.design.name == was:
            self._swap(self.moments[self.at].design)

    def never_saved(self) -> None:
        """Take the work as one that no file holds yet."""
        self._saved = None

    def _reshelve(self, shelf: Shelf) -> None:
        self.work = edited(self.work, kept=shelf)
        self.shelf_changed.emit()

    def _swap(self, design: Design) -> None:
        self.work = edited(self.work, design=design)
        self.changed.emit()
        self.status_changed.emit()
