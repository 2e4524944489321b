"""The desk a work lies on: the work, what is looked at, and what was worked out of it. Panels are given it and nothing else."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from under_lattice.core.errors import InputError
from under_lattice.evaluate.result import ChainResult
from under_lattice.measure.facts import Facts
from under_lattice.ui.state.document import Document
from under_lattice.ui.state.looked_at import LookedAt
from under_lattice.work.model import Design
from under_lattice.work.shelf import put_on


class Found(QObject):
    """What was worked out of the work as it is shown; it comes from the worker, a little later than the work itself."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.facts = Facts()
        self.results: dict[str, ChainResult] = {}
        self.steps: dict[str, QImage] = {}
        self.layers: dict[str, QImage] = {}

    def take(self, facts: Facts, steps: dict[str, QImage], layers: dict[str, QImage]) -> None:
        """Take over facts of the chosen layer, pictures of its steps, and pictures of layers, by their ids."""
        self.facts = facts
        self.steps |= steps
        self.layers |= layers
        self.changed.emit()


class Desk(QObject):
    """All that a panel may know.

    Attributes
    ----------
    document : Document
        The work, and its undo.
    looked : LookedAt
    found : Found
    asked : signal of (str, Address)
        What a dial asks for that others do: siblings or a strip of it, all else locked.
    told : signal of str
        A sentence for the person, or nothing; shown in the line of facts.
    """

    told = Signal(str)
    colour_wanted = Signal(object)  # from the sheet; what is to be called with it
    asked = Signal(str, object)  # what a dial asks for, in a word, and its address

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.looked = LookedAt(document)
        self.found = Found()
        document.moment = lambda: self.looked.hanging_at

    def edit(self, words: str, change: Callable[[Design], Design]) -> bool:
        """Make one edit; a refusal is told."""
        try:
            self.document.apply(words, change(self.document.design))
        except InputError as error:
            self.told.emit(error.message)
            return False
        self.told.emit("")
        return True

    def keep(self, design: Design, name: str = "") -> None:
        """Put a design on the shelf; a full shelf is told."""
        try:
            shelf = put_on(self.document.work.kept, design, name, datetime.now().isoformat(timespec="minutes"))
        except InputError as error:
            self.told.emit(error.message)
            return
        self.document.keep(shelf)
        self.told.emit(f"kept as {shelf[-1].name}")
