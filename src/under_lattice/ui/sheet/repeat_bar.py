"""Repeat check: the bar that says what repeats and with which seams, and lays it straight, in half-drop or as bricks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from PySide6.QtCore import Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.beyond import goes_on, larger
from under_lattice.evaluate.cache import SHARED
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.loop.moment import at_moment
from under_lattice.periods.cell import Cell, find_cell
from under_lattice.periods.seams import painted_tile, pixels_of, report, sheet_as_cell
from under_lattice.scene.tree import make_scene
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.words import Words
from under_lattice.ui.sheet.repeat_paint import LAID
from under_lattice.ui.sheet.sheet_view import SheetView
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.workers.small_pictures import to_image
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.model import Design

Of = Literal["the cell", "the sheet"]
OF: tuple[Of, ...] = ("the cell", "the sheet")
PIXELS_MOST, PIXELS_LEAST, EXPORTED = 1600, 64, 1200  # px across of the picture that is repeated, and of one that goes out
BEYOND = 1.3  # times the sheet: what would lie just beyond it is compared with what comes in
FAULT = "the repeat could not be drawn ({})"
MARGIN = 24


@dataclass(frozen=True, eq=False)
class Looked:
    """A cell as it is shown, and what there is to say of it."""

    of: Of
    cell: Cell
    image: QImage
    words: str


def looked_at(design: Design, of: Of, scale: float, progress: Progress) -> Looked:
    """Return the cell of a work, or the sheet as one, painted so many px for each unit, and what is found at its seams.

    Raises
    ------
    InputError
        When the work has no cell.
    GivenUp
    """
    evaluator = Evaluator(SHARED)
    if of == "the cell":
        cell = find_cell(design, progress, evaluator)
    else:
        results = evaluator.design(design, progress)
        wide = larger(design.sheet, BEYOND, results.values()) if goes_on(design.chains()) else design.sheet
        shown = edited(design, sheet=wide)
        scene = make_scene(shown, evaluator.design(shown, progress), evaluator, progress=progress)
        cell = sheet_as_cell(scene, design.sheet)
    across = int(min(max(cell.box.width * scale, PIXELS_LEAST), PIXELS_MOST))
    tile = painted_tile(cell, pixels_of(cell, across), progress)
    exported = painted_tile(cell, pixels_of(cell, EXPORTED), progress)
    words = f"{report(cell, exported)}; as seen here {tile.words(cell)}"
    return Looked(of, cell, to_image(tile.pixels), words)


class RepeatBar(QWidget):
    """Hidden until the repeat is looked at."""

    closed = Signal()

    def __init__(self, desk: Desk, sheet: SheetView) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.desk, self.sheet = desk, sheet
        self.looked: Looked | None = None
        self._fitted = True
        self.of, self.laid = QuietCombo("What is repeated"), QuietCombo("How it is laid")
        self.of.addItems(list(OF))
        self.laid.addItems(list(LAID))
        self.of.textActivated.connect(lambda _: self._ask(fit=True))
        self.laid.textActivated.connect(self._lay)
        self.words = Words("")
        self.words.setWordWrap(True)
        self.words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.close_button = QPushButton("Close")
        self.close_button.clicked.connect(self._close)
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 6, 24, 6)
        row.setSpacing(8)
        row.addWidget(Words("Repeat of"))
        row.addWidget(self.of)
        row.addWidget(self.laid)
        row.addWidget(self.words, 1)
        row.addWidget(self.close_button)
        desk.looked.overlay_changed.connect(self.switched)
        desk.document.changed.connect(self._ask)
        sheet.view_changed.connect(self._ask)
        self.hide()

    def switched(self) -> None:
        """Show the repeat, or put it away, as its switch says."""
        on = self.desk.looked.repeat
        if on == self.sheet.repeated.on:
            return
        self.sheet.repeated.on = on
        self.setVisible(on)
        if on:
            self._fitted = self.sheet.fitted
            self._ask(fit=True)
        else:
            self.sheet.repeated.show(None, 1.0, 1.0, "")
            if self._fitted:
                self.sheet.fit()

    def _close(self) -> None:
        self.desk.looked.repeat = False
        self.closed.emit()

    def _lay(self, laid: str) -> None:
        self.sheet.repeated.laid = next(one for one in LAID if one == laid)
        self.sheet.update()

    def _ask(self, fit: bool = False) -> None:
        """Ask for the cell as it is now; it is shown whole, three by three, when it comes first."""
        if not self.sheet.repeated.on:
            return
        design, of = at_moment(self.desk.document.design, self.desk.looked.time), OF[self.of.currentIndex()]
        scale = self.sheet.scale * self.sheet.devicePixelRatioF()
        worker().ask(
            Job("repeat", Urgency.LOOKED_AT, lambda progress: looked_at(design, of, scale, progress),
                lambda looked: self._show(looked, fit), self._none, owner=self, fault=FAULT)
        )  # fmt: skip

    def _show(self, looked: Looked, fit: bool) -> None:
        if not self.sheet.repeated.on:
            return
        self.looked = looked
        box, unit = looked.cell.box, self.desk.document.design.sheet.unit
        name = "cell" if looked.of == "the cell" else "sheet"
        size = f"{name} {short(box.width, 2)} × {short(box.height, 2)} {unit}"  # noqa: RUF001
        self.sheet.repeated.show(looked.image, box.width, box.height, size)
        self.words.setText(capital(looked.words))
        self.setAccessibleDescription(looked.words)
        if fit:
            wide, high = self.sheet.width() - 2 * MARGIN, self.sheet.height() - 2 * MARGIN
            self.sheet.centre = (0.0, 0.0)
            self.sheet.zoom_to(min(wide / (3 * box.width), high / (3 * box.height)))

    def _none(self, sentence: str) -> None:
        """Say why there is no cell; the sheet can be repeated all the same."""
        if sentence and self.sheet.repeated.on:
            self.looked = None
            self.sheet.repeated.show(None, 1.0, 1.0, "")
            self.words.setText(f"No cell: {sentence}")
            self.setAccessibleDescription(sentence)
