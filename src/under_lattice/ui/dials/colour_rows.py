"""Rows of colours: one colour, or a palette."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from under_lattice.colour.colour import checked
from under_lattice.core.errors import InputError
from under_lattice.ui.dials.colour_panel import PAUSE_MS, ColourPanel, Swatch
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.line import Line
from under_lattice.ui.dials.palette_menu import PaletteMenu
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.dials.share_bar import ShareBar
from under_lattice.ui.look.tokens import px

IN_A_LINE = 7
MOST = 12


class ColourRow(DialRow):
    """A swatch and its figures."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.swatch = Swatch(self.dial.label)
        self.swatch.clicked.connect(self.open_colour)
        self.hex = Line(lambda text: self._meant(text) is None)
        self.hex.setAccessibleName(f"{self.dial.label}: figures, a name or rgb()")
        self.hex.setToolTip("For instance #C4694C, #C64, teal or rgb(196, 105, 76)")
        self._wrong = ""
        self._pause = QTimer(self, singleShot=True, interval=PAUSE_MS)
        self._pause.timeout.connect(lambda: self.refuse(self._wrong))
        self.hex.textEdited.connect(self._typed)
        self.hex.editingFinished.connect(self.hand.document.end_visit)
        self.line.addWidget(self.swatch)
        self.line.addWidget(self.hex, 1)

    def refresh(self) -> None:
        self.swatch.show_value(self.value)
        if self._meant(self.hex.text()) != self.value and not self.hex.half_typed():
            self.hex.setText(self.value)

    def _meant(self, text: str) -> str | None:
        """The colour a text means, or None."""
        try:
            return checked(text.strip())
        except InputError:
            return None

    def _typed(self, text: str) -> None:
        try:
            value = checked(text.strip())
        except InputError as error:
            self._wrong = error.message
            self._pause.start()
            return
        self._pause.stop()
        self.turn(value, self)

    def open_colour(self, at: int = 0) -> None:
        """Open the panel of the colour."""
        self.panel = open_colour(self.swatch, self.value, lambda value, visit: self.turn(value, visit), [], self.hand)


class PaletteRow(DialRow):
    """Swatches taken in turn, and a place for one more."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.swatches: list[Swatch] = []
        self.opened = 0  # the colour that was opened last
        self.box = QWidget()
        self.grid = QGridLayout(self.box)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(2)
        self.more = QPushButton("+")
        self.more.setObjectName("nudge")
        self.more.setFixedSize(px(24), px(24))
        self.more.setAccessibleName(f"{self.dial.label}, one colour more")
        self.more.setToolTip("One colour more")
        self.more.clicked.connect(self._add)
        self.line.addWidget(self.box)
        self.line.addStretch(1)
        self.palettes = PaletteMenu(self.dial.label, lambda: self.value, self._chosen, lambda: hand.document.design)
        self.palettes.taken.connect(lambda colours: self.turn(colours, object()))
        self.palettes.refused.connect(self.refuse)
        self.shares = ShareBar(self.dial.label)
        self.shares.wanted.connect(lambda colour: hand.show_colour(self.name, colour))
        beneath = QHBoxLayout()
        beneath.setSpacing(px(8))
        beneath.addWidget(self.shares, 1)
        beneath.addWidget(self.palettes)
        self.below.insertLayout(0, beneath)

    def refresh(self) -> None:
        self.shares.show_shares(self.value, self.hand.facts.shares)
        palette: tuple[str, ...] = self.value
        if len(palette) != len(self.swatches):
            self._build(len(palette))
        for k, (swatch, value) in enumerate(zip(self.swatches, palette, strict=True)):
            swatch.show_value(value)
            swatch.setAccessibleName(f"{self.dial.label}, colour {k + 1}")

    def _build(self, count: int) -> None:
        for swatch in self.swatches:
            swatch.setParent(None)
            swatch.deleteLater()
        self.swatches = []
        for k in range(count):
            swatch = Swatch(self.dial.label)
            swatch.clicked.connect(lambda _=False, k=k: self.open_colour(k))
            self.swatches.append(swatch)
            self.grid.addWidget(swatch, k // IN_A_LINE, k % IN_A_LINE)
        self.grid.addWidget(self.more, count // IN_A_LINE, count % IN_A_LINE)
        self.more.setVisible(count < MOST)

    def _chosen(self) -> str:
        """The colour that palettes are made from: the one opened last."""
        return self.value[min(self.opened, len(self.value) - 1)]

    def _with(self, at: int, value: str, visit: object | None) -> None:
        palette = list(self.value)
        if at < len(palette):
            palette[at] = value
            self.turn(tuple(palette), visit)

    def _add(self) -> None:
        self.turn((*self.value, self.value[-1]))
        self.open_colour(len(self.value) - 1)

    def _remove(self, at: int) -> None:
        self.turn(tuple(c for k, c in enumerate(self.value) if k != at))

    def _earlier(self, at: int) -> None:
        palette = list(self.value)
        palette[at - 1], palette[at] = palette[at], palette[at - 1]
        self.turn(tuple(palette))

    def open_colour(self, at: int) -> None:
        """Open the panel of one colour."""
        self.opened = at
        extras: list[tuple[str, Callable[[], None]]] = []
        if at:
            extras.append(("Move earlier", lambda: self._earlier(at)))
        if len(self.value) > 1:
            extras.append(("Remove", lambda: self._remove(at)))
        self.panel = open_colour(
            self.swatches[at],
            self.value[at],
            lambda value, visit: self._with(at, value, visit),
            extras,
            self.hand,
            [*(one for k, one in enumerate(self.value) if k != at), self.hand.sheet.background],
        )


def open_colour(
    swatch: Swatch,
    value: str,
    take: Callable[[str, object], None],
    extras: list[tuple[str, Callable[[], None]]],
    hand: Hand,
    beside: Sequence[str] = (),
) -> ColourPanel:
    """Open the panel of a colour under its swatch; all changes until it closes are one step of undo."""
    visit, loupe = object(), hand.loupe
    if loupe is not None:
        extras = [("From the sheet", lambda: loupe(lambda new: take(new, object()))), *extras]
    panel = ColourPanel(value, extras, beside)
    panel.changed.connect(lambda new: take(new, visit))
    panel.abandoned.connect(lambda: hand.document.give_up(visit))
    panel.closed.connect(hand.document.end_visit)
    panel.open_under(swatch)
    return panel
