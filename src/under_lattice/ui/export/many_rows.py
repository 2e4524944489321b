"""More than one file at once: of which works made of this one, and at which further widths."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import get_args

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QGridLayout, QLineEdit, QSizePolicy, QWidget

from under_lattice.core.errors import InputError, LatticeError
from under_lattice.declare.option_dials import PixelCount
from under_lattice.many.versions import Each, Row, Version, read_rows, versions_of
from under_lattice.output import Format
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.work.model import Work

WIDTHS_MOST = 20
AS_IT_IS: Each = "the work as it is"


class ManyRows(QWidget):
    """Of what files are made, and further widths of pictures."""

    changed = Signal()
    refused = Signal(str)

    def __init__(self, work: Work, folder: Path, given: Sequence[Version] = ()) -> None:
        super().__init__()
        self.work, self.folder, self._given = work, folder, tuple(given)
        self._rows: list[Row] = []
        self._table, self._before = "", 0
        self.of, self.widths = QuietCombo("Of what files are made"), QLineEdit()
        self.of.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.of.activated.connect(self._choose)
        self.widths.setAccessibleName("Further widths in px")
        self.widths.setPlaceholderText("such as 600, 1200 px")
        self.widths.setToolTip("Also as pictures of these widths in px, each with its width behind its name.")
        self.widths.textEdited.connect(lambda _: self.changed.emit())
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 8, 0)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(6)
        grid.setColumnMinimumWidth(0, px(120))
        grid.setColumnStretch(1, 1)
        self._of_label, self._widths_label = Words("Of"), Words("Also wide")
        for row, parts in enumerate(((self._of_label, self.of), (self._widths_label, self.widths))):
            for column, part in enumerate(parts):
                grid.addWidget(part, row, column)
        for part in (self._of_label, self.of):
            part.setVisible(not given)
        self._fill()

    def _fill(self) -> None:
        """The entries: kept versions only where there are any, a table by its name."""
        at = self.of.currentIndex()
        self.of.clear()
        words = {"each kept version": f"each of {len(self.work.kept)} kept versions"}
        if self._table:
            words["each row of a table"] = f"each of {len(self._rows)} rows of {self._table}"
        for each in get_args(Each):
            if each != "each kept version" or self.work.kept:
                more = "…" if each == "each row of a table" and not self._table else ""
                self.of.addItem(words.get(each, each) + more, each)
        self.of.setCurrentIndex(max(at, 0))

    @property
    def each(self) -> Each:
        """Of what files are made."""
        return self.of.currentData() or AS_IT_IS

    def _choose(self, at: int) -> None:
        said = ""
        if self.of.itemData(at) == "each row of a table":
            chosen, _ = QFileDialog.getOpenFileName(self, "A table of numbers", str(self.folder), "Tables (*.csv *.json)")
            said = self._take_table(chosen)
        self._before = self.of.currentIndex()
        self.changed.emit()
        if said:
            self.refused.emit(said)

    def _take_table(self, chosen: str) -> str:
        """Read a table, and return what is wrong with it; where there is none, what was chosen before stays."""
        said = ""
        try:
            if chosen:
                self._rows, self._table = read_rows(Path(chosen)), Path(chosen).name
                self._fill()
                return ""
        except LatticeError as error:
            said = str(error)
        self.of.setCurrentIndex(self._before)
        return said

    def versions(self) -> tuple[Version, ...]:
        """Return the works that go out, by name; one without a name where it is the work alone."""
        return self.made_of()(self.work)

    def made_of(self) -> Callable[[Work], tuple[Version, ...]]:
        """Return what makes such works of any work, also of this one as it will be."""
        given, each, rows = self._given, self.each, tuple(self._rows)
        return lambda work: given or versions_of(work, each, rows)

    def show_for(self, options: Format) -> None:
        """Show the widths for formats that have one."""
        for part in (self._widths_label, self.widths):
            part.setVisible(isinstance(options.dials().get("width"), PixelCount))

    def sizes(self, options: Format) -> list[Format]:
        """Return the options, and those of further widths.

        Raises
        ------
        InputError
        """
        dial = options.dials().get("width")
        text = self.widths.text().strip().rstrip(",")
        if not isinstance(dial, PixelCount) or not text:
            return [options]
        words = [one.strip().removesuffix("px").strip() for one in text.split(",")]
        if len(words) > WIDTHS_MOST:
            raise InputError(f"at most {WIDTHS_MOST} further widths at a time")
        try:
            wide = list(dict.fromkeys(int(one) for one in words))
        except ValueError:
            raise InputError(
                f"further widths are whole numbers of px with commas between, as 600, 1200; not “{text[:60]}”"
            ) from None
        if any(not 1 <= one <= dial.most for one in wide):
            raise InputError(f"a further width takes 1 to {dial.most:,.0f} px")
        return [options, *(options.turned("width", one) for one in wide)]
