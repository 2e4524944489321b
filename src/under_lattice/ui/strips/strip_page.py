"""The page of a test strip, in place of the sheet: both axes in their rows, the strip, and what can be done with it."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPoint, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QImage, QKeyEvent
from PySide6.QtWidgets import QFileDialog, QGridLayout, QPushButton, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.declare.moving import mixed_evenly
from under_lattice.explore.movable import Movables
from under_lattice.explore.strips import Axis, Strip, number_axis, read_axis, suggested_axis
from under_lattice.files.saving import write_atomically
from under_lattice.files.storage import stem_of
from under_lattice.library.palettes import PALETTES
from under_lattice.output.contact_sheet import ENDINGS, sheet_of
from under_lattice.ui.dials.carrying import FORM, brought
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.words import Words
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.strips.axis_row import AxisRow
from under_lattice.ui.strips.strip_view import StripView
from under_lattice.ui.workers.cells import Cells
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.address import Address
from under_lattice.work.model import Design, StripOrder

WAIT_MS = 180
HINT = "Press a picture to pick it, double press or Space to adopt it, K keeps, F closes in. Drag an end bead to stretch the strip."
NUMBERS = itertools.count(1)


class StripPage(QWidget):
    """Hidden until a strip is opened."""

    picked = Signal(object)  # (Design, (column, row)) or None
    closed = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self.cells, self.view = desk, Cells(self), StripView()
        self.setObjectName("stripPage")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.strip: Strip | None = None
        self.number = 0
        self._large_words = ""
        self.folder: Callable[[], Path] = Path.home
        self.rows = (AxisRow("↔", "across", False), AxisRow("↕", "down", True))
        self.error, self.hint = Words(""), Words(HINT)
        self._lay_out()
        self._wait = QTimer(self, singleShot=True, interval=WAIT_MS)
        self._wait.timeout.connect(self._ask)
        for down, row in enumerate(self.rows):
            row.turned.connect(partial(self._turn, bool(down)))
            row.refused.connect(self.error.setText)
        self.cells.came.connect(self._came)
        self.cells.refused.connect(self._refused)
        view = self.view
        view.picked.connect(lambda *at: self._show_picked(at))
        view.looked_at.connect(lambda *at: self._show_picked(at if at[0] >= 0 else view.chosen))
        view.adopted.connect(self.adopt)
        view.key_pressed.connect(self._key)
        view.menu_wanted.connect(self._menu)
        view.stretched.connect(self._stretch)
        view.resized.connect(self._wait.start)
        desk.document.changed.connect(self._work_changed)
        self.setAcceptDrops(True)
        self.hide()

    def _lay_out(self) -> None:
        bar = QWidget()
        bar.setObjectName("bar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        grid = QGridLayout(bar)
        grid.setContentsMargins(16, 6, 12, 6)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self.swap_button, self.export_button = QPushButton("Swap"), QPushButton("Export…")
        self.swap_button.clicked.connect(self.swap)
        self.export_button.clicked.connect(self.export)
        grid.addWidget(self.rows[0], 0, 0)
        grid.addWidget(self.rows[1], 1, 0)
        grid.addWidget(self.swap_button, 0, 1)
        grid.addWidget(self.export_button, 1, 1)
        grid.setColumnStretch(0, 1)
        self.error.setObjectName("error")
        self.hint.setObjectName("onSurround")
        self.hint.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        grid.addWidget(self.error, 2, 0, 1, 2)
        column.addWidget(bar)
        column.addWidget(self.view, 1)
        column.addWidget(self.hint)

    # -- the strip -------------------------------------------------------------------------------
    def open(self, address: Address | None = None) -> None:
        """Open a strip of a dial; of another one while a strip is open, it becomes the second axis."""
        design = self.desk.document.design
        try:
            if address is None:
                self.show_strip(self.strip or Strip(design, suggested_axis(design, self._likely(design))))
            elif self.strip is None or self.strip.across.address == address:
                self.show_strip(Strip(design, suggested_axis(design, address)))
            else:
                self.show_strip(Strip(design, self.strip.across, suggested_axis(design, address)))
        except InputError as error:
            self.desk.told.emit(error.message)

    def _likely(self, design: Design) -> Address:
        """A number of the open rule, or else the first of the chosen layer, to begin with."""
        looked = self.desk.looked
        numbers = [one for one in Movables(design).all if one.dial.kind in ("length", "angle", "ratio", "count")]
        open_rule = [one for one in numbers if one.address.rule == looked.rule]
        layer = [one for one in numbers if one.address.layer == looked.layer]
        found = open_rule or layer or numbers
        if not found:
            raise InputError("there is no number that can be stepped")
        return found[0].address

    def open_order(self, order: StripOrder) -> None:
        """Open the strip that lies over a work; one that does not suit it any more is left away."""
        document = self.desk.document
        try:
            across = read_axis(document.design, order.across, document.work.kept, PALETTES)
            down = read_axis(document.design, order.down, document.work.kept, PALETTES) if order.down else None
            self.show_strip(Strip(document.design, across, down))
        except InputError as error:
            self.desk.told.emit(f"the strip of this work: {error.message}")

    def show_strip(self, strip: Strip) -> None:
        """Take over a strip."""
        self.strip = strip
        self.show()
        kept = self.desk.document.work.kept
        self.rows[0].show_axis(strip.design, strip.across, kept)
        self.rows[1].show_axis(strip.design, strip.down, kept)
        self.swap_button.setEnabled(strip.down is not None)
        self._show()

    def take_focus(self) -> None:
        """Put the focus on the picture of the work as it is, or the first."""
        if self.strip is not None:
            self.view.tiles[self.strip.now or (0, 0)].setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _show(self) -> None:
        assert self.strip is not None
        self.error.setText("")
        self.view.show_strip(self.strip)
        down = self.strip.down.text(self.strip.design) if self.strip.down is not None else ""
        self.desk.document.lay_strip(StripOrder(across=self.strip.across.text(self.strip.design), down=down))
        axes = (("↔", self.strip.across), ("↕", self.strip.down))
        self.desk.looked.stepped = {axis.address: sign for sign, axis in axes if axis is not None and axis.address is not None}
        self._show_picked(self.view.chosen)
        self._wait.start()

    def _ask(self) -> None:
        if self.strip is None or not self.isVisible():
            return
        if self.view.tiles and next(iter(self.view.tiles.values())).size() != self.view.cell_size():
            self.view.show_strip(self.strip)
        self.number = next(NUMBERS)
        size = (self.view.cell_size() - QSize(4, 4)) * self.devicePixelRatioF()
        self.cells.ask(self.number, self.strip, size, self.view.chosen or self.strip.now or (0, 0))
        self._show_large(self.view.chosen)

    def _turn(self, down: bool, axis: Axis | None) -> None:
        """Take over an axis that was turned in its row."""
        if self.strip is None:
            return
        try:
            other = self.strip.across if down else self.strip.down
            made = Strip(self.strip.design, other, axis) if down and other is not None else Strip(self.strip.design, axis, other)  # type: ignore[arg-type]
        except InputError as error:
            self.error.setText(error.message)
            return
        self.strip = made
        self.swap_button.setEnabled(made.down is not None)
        self._show()

    def _work_changed(self) -> None:
        """The work goes on: the same axes over it, unless what they step is gone."""
        self.cells.drop()
        if self.strip is None or not self.isVisible():
            return
        design = self.desk.document.design
        try:
            for axis in (self.strip.across, self.strip.down):
                if axis is not None and axis.address is not None and axis.address.layer and axis.address.dial != "kind":
                    axis.address.value(design)
            self.show_strip(Strip(design, self.strip.across, self.strip.down))
        except InputError:
            self.close_strip()

    def swap(self) -> None:
        """Exchange across and down."""
        if self.strip is not None:
            self.view.chosen = self.view.chosen[::-1] if self.view.chosen is not None else None
            self.show_strip(self.strip.swapped())

    def finer(self, column: int, row: int) -> None:
        """Close in on a cell: steps half as large round it."""
        if self.strip is not None:
            try:
                self.show_strip(self.strip.finer(column, row))
            except InputError as error:
                self.error.setText(error.message)

    def _stretch(self, down: bool, start: float, stop: float) -> None:
        """Stretch or squeeze an axis: its ends as shares of its run."""
        if self.strip is None:
            return
        axis = self.strip.down if down else self.strip.across
        if axis is None or axis.run is None or axis.address is None:
            return
        low, high, ratio = axis.run
        try:
            ends = mixed_evenly(low, high, start), mixed_evenly(low, high, stop)
            made = number_axis(self.strip.design, axis.address, round(ends[0], 3), round(ends[1], 3), len(axis.steps), ratio)
        except InputError as error:
            self.error.setText(error.message)
            return
        self._turn(down, made)
        self.rows[int(down)].show_axis(self.strip.design, made, self.desk.document.work.kept)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close_strip()
        else:
            super().keyPressEvent(event)

    def close_strip(self) -> None:
        """Put the strip away; the sheet is seen again."""
        self.cells.drop()
        self.strip = None
        self.view.chosen = None
        self.desk.document.lay_strip(None)
        self.desk.looked.stepped = {}
        self.hide()
        self.picked.emit(None)
        self.closed.emit()

    # -- pictures --------------------------------------------------------------------------------
    def _came(self, number: int, column: int, row: int, picture: QImage) -> None:
        if number == self.number and column >= 0:
            self.view.show_picture(column, row, picture)
        elif column < 0:
            self.view.show_large(picture, self._large_words)

    def _refused(self, number: int, column: int, row: int, sentence: str) -> None:
        if number == self.number and column >= 0:
            self.view.show_problem(column, row, sentence)

    # -- a cell ----------------------------------------------------------------------------------
    def design_at(self, column: int, row: int) -> Design | None:
        """Return the design of a cell; one that cannot be is told."""
        if self.strip is None:
            return None
        try:
            return self.strip.cell(column, row)
        except InputError as error:
            self.desk.told.emit(error.message)
            return None

    def words_at(self, column: int, row: int) -> str:
        """Return the values of a cell in words."""
        if self.strip is None:
            return ""
        words = [self.strip.across.steps[column].words]
        if self.strip.down is not None:
            words.append(self.strip.down.steps[row].words)
        return ", ".join(words)

    def _show_picked(self, at: tuple[int, int] | None) -> None:
        self._show_large(at)
        if at is None or self.strip is None:
            self.picked.emit(None)
            return
        design = self.design_at(*at)
        self.picked.emit(None if design is None else (design, at))

    def _show_large(self, at: tuple[int, int] | None) -> None:
        """Show a cell large where there is room; the work as it is when none is looked at."""
        room = self.view.large_room()
        if self.strip is None or room.isEmpty():
            self.view.show_large(None)
            return
        design = self.strip.design if at is None else self.design_at(*at)
        self._large_words = "now" if at is None else self.words_at(*at)
        if design is not None:
            self.cells.ask_one(self.number, design, room.size() * self.devicePixelRatioF())

    def adopt(self, column: int, row: int) -> None:
        """Go on from a cell: one step of undo; the strip stays, with now there."""
        design = self.design_at(column, row)
        if design is not None:
            self.desk.document.apply(f"Adopt {self.words_at(column, row)} from the strip", design, whole=True)

    def keep(self, column: int, row: int) -> None:
        """Put a cell on the shelf."""
        design = self.design_at(column, row)
        if design is not None:
            self.desk.keep(design, self.words_at(column, row))

    def _key(self, column: int, row: int, event: QKeyEvent) -> None:
        acts = {Qt.Key.Key_K: self.keep, Qt.Key.Key_F: self.finer, Qt.Key.Key_P: self.view.pick}
        act = acts.get(Qt.Key(event.key()))
        if act is not None:
            act(column, row)
            event.accept()
        elif event.key() == Qt.Key.Key_Escape:
            self.close_strip()
            event.accept()

    def _menu(self, column: int, row: int, where: QPoint) -> None:
        menu = PopupMenu(self)
        menu.addAction("Adopt", partial(self.adopt, column, row))
        menu.addAction("Keep", partial(self.keep, column, row))
        menu.addAction("Finer around this one", partial(self.finer, column, row))
        menu.popup(where)

    # -- out -------------------------------------------------------------------------------------
    def export(self) -> None:
        """Ask for a file and write the strip as a contact sheet with its numbers."""
        if self.strip is None:
            return
        kinds = "PNG picture (*.png);;SVG drawing (*.svg);;PDF page (*.pdf)"
        start = self.folder() / f"{stem_of(self.strip.design.name)}-strip.png"
        chosen, kind = QFileDialog.getSaveFileName(self, "Export strip", str(start), kinds)
        if chosen:
            path = Path(chosen)
            if path.suffix.lower().lstrip(".") not in ENDINGS:
                path = path.with_name(path.name + "." + kind.partition("*.")[2].rstrip(")"))
            self.write(path)

    def write(self, path: Path, width: int = 240) -> None:
        """Write the strip, its pictures `width` px wide, off the interface thread."""
        strip = self.strip
        if strip is None:
            return

        def written(progress: Progress) -> str:
            write_atomically(path, sheet_of(strip, width).write(path.suffix.lower().lstrip("."), progress))
            return path.name

        done = lambda name: self.desk.told.emit(f"exported {name}")  # noqa: E731
        worker().ask(Job(f"export {path}", Urgency.ASKED_FOR, written, done, self.desk.told.emit, owner=self))

    # -- a dial dropped on it ---------------------------------------------------------------------
    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasFormat(FORM):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        event.acceptProposedAction()
        address = brought(event.mimeData())
        if address is not None:
            self.open(address)
