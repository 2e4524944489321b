"""All colours of a work with their shares of the sheet: change one everywhere, take a palette, move them together."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.declare.dials import Angle, NumberDial, Ratio
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.palettes import PALETTES
from under_lattice.render.coverage import shares_in_scene
from under_lattice.scene.tree import make_scene
from under_lattice.ui.dials.colour_panel import ColourPanel, Swatch
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.parts import ThreadSlider
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.colours import by_lightness, in_order, moved, recoloured, uses_of
from under_lattice.work.model import Design

HOW: dict[str, Callable[[Sequence[str], Sequence[str]], dict[str, str]]] = {"by lightness": by_lightness, "in order": in_order}
MOVES: dict[str, tuple[NumberDial, float]] = {
    "Hue": (Angle("Hue", "All hues turned together.", slides=(-180.0, 180.0)), 0.0),
    "Strength": (Ratio("Strength", "How strong colours are, of what they are.", least=0.0, most=400.0, slides=(0.0, 200.0)), 100.0),
    "Lightness": (Ratio("Lightness", "Lighter, or darker below zero.", least=-100.0, most=100.0, slides=(-50.0, 50.0)), 0.0),
}
SHOWN_MOST = 60
ROW_HIGH, ROWS_HIGH = 28, 300  # px of a colour, and of the list before it scrolls


class RecolourDialog(Dialog):
    """Every change shows on the sheet at once; all of them are one step of undo, and Cancel takes them back."""

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Recolour")
        self.desk, self.visit = desk, object()
        self.change: dict[str, str] = {}
        self.rows: dict[str, tuple[Swatch, Swatch, QLabel, QLabel]] = {}
        chosen = desk.looked.chosen
        self.layer = chosen.id if chosen is not None and not chosen.members else ""
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(10)
        self.scope = QuietCombo("Which colours")
        self.scope.addItem("of the whole work", "")
        if chosen is not None and self.layer:
            self.scope.addItem(f"of the layer {chosen.name}", self.layer)
        self.scope.activated.connect(lambda _: self._begin())
        column.addWidget(self.scope)
        self.list = QWidget()
        self.grid = QGridLayout(self.list)
        self.grid.setContentsMargins(0, 0, 8, 0)
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(4)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.list)
        self.scrolled = scroll
        column.addWidget(scroll)
        column.addLayout(self._palette_line())
        column.addLayout(self._moves())
        self.error = Words("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        self.error.hide()
        column.addWidget(self.error)
        column.addLayout(self._buttons())
        self.setFixedWidth(px(380))
        self._begin()

    def _palette_line(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(Words("Palette"))
        self.palette_ = QuietCombo("Palette that takes their place")
        self.palette_.addItem("as they are")
        self.palette_.addItems(list(PALETTES))
        self.how = QuietCombo("How its colours are given")
        self.how.addItems(list(HOW))
        for combo in (self.palette_, self.how):
            combo.activated.connect(lambda _: self._take_palette())
            row.addWidget(combo, 1)
        return row

    def _moves(self) -> QGridLayout:
        grid = QGridLayout()
        self.fields: dict[str, NumberField] = {}
        self.sliders: dict[str, ThreadSlider] = {}
        for row, (words, (dial, start)) in enumerate(MOVES.items()):
            slider, field = ThreadSlider(*dial.slides, words), NumberField(dial, dial.unit, 96.0, words)
            slider.setFixedWidth(px(180))
            slider.show_value(start)
            field.show_value(start)
            slider.moved.connect(partial(self._moved, words))
            field.entered.connect(partial(self._moved, words))
            field.refused.connect(self._refuse)
            field.nudged.connect(field.step_seen)
            grid.addWidget(Words(words), row, 0)
            grid.addWidget(slider, row, 1)
            grid.addWidget(field, row, 2)
            self.sliders[words], self.fields[words] = slider, field
        self.by = {words: start for words, (_, start) in MOVES.items()}
        return grid

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addStretch(1)
        cancel, done = QPushButton("Cancel"), QPushButton("Done")
        cancel.clicked.connect(self.reject)
        done.clicked.connect(self.accept)
        done.setDefault(True)
        row.addWidget(cancel)
        row.addWidget(done)
        return row

    # -- what is shown ----------------------------------------------------------------------------
    def _begin(self) -> None:
        """Begin anew with the colours as they are now."""
        self.base: Design = self.desk.document.design
        self.layer, self.change = self.scope.currentData(), {}
        self.uses = uses_of(self.base, self.layer)
        for old in self.list.findChildren(QWidget):
            old.setParent(None)
            old.deleteLater()
        self.rows = {}
        for row, (value, uses) in enumerate(list(self.uses.items())[:SHOWN_MOST]):
            before, after, share = Swatch(f"{value}, as it was"), Swatch(f"in place of {value}"), Words("…")
            before.setEnabled(False)
            before.show_value(value)
            after.clicked.connect(partial(self._open, value))
            figures, where = Words(value), Words("once" if len(uses) == 1 else f"{len(uses)} times")
            share.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            where.setObjectName("small")
            for at, part in enumerate((before, Words("→"), after, figures, where, share)):
                self.grid.addWidget(part, row, at)
            self.rows[value] = before, after, figures, share
        self.grid.setColumnStretch(4, 1)
        self.grid.setRowStretch(len(self.rows), 1)
        self.scrolled.setFixedHeight(min(px(ROWS_HIGH), px(ROW_HIGH) * len(self.rows) + 8))
        self.adjustSize()
        self._show()
        worker().ask(
            Job("shares", Urgency.LOOKED_AT, partial(shares_of_work, self.base, tuple(self.uses)), self._shares, owner=self)
        )

    def _shares(self, shares: dict[str, float]) -> None:
        """Show how much of the sheet each colour is seen on, the most first in what is said of all."""
        for value, share in shares.items():
            if value in self.rows:
                self.rows[value][3].setText(f"{share:.1f} %")

    def _now(self, value: str) -> str:
        """What a colour is turned into."""
        turn = moved(self.by["Hue"], self.by["Strength"], self.by["Lightness"])
        same = all(abs(self.by[words] - start) < 1e-9 for words, (_, start) in MOVES.items())
        here = self.change.get(value, value)
        return here if same else turn(here)

    def _show(self) -> None:
        for value, (_, after, figures, _) in self.rows.items():
            after.show_value(self._now(value))
            figures.setText(self._now(value))

    # -- what is changed --------------------------------------------------------------------------
    def _apply(self) -> None:
        try:
            design = recoloured(self.base, {value: self._now(value) for value in self.uses}, self.layer)
        except InputError as error:
            self._refuse(error.message)
            return
        self._refuse("")
        self.desk.document.apply("Recolour", design, self.visit)
        self._show()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.setVisible(bool(sentence))

    def _open(self, value: str) -> None:
        """Open the panel of one colour; it is changed wherever it stands."""
        self.panel = ColourPanel(self._now(value), [])
        self.panel.changed.connect(partial(self._set, value))
        self.panel.open_under(self.rows[value][1])

    def _set(self, value: str, new: str) -> None:
        self.change[value] = new
        self._apply()

    def _take_palette(self) -> None:
        palette = PALETTES.get(self.palette_.currentText())
        self.change = HOW[self.how.currentText()](tuple(self.uses), palette) if palette else {}
        self._apply()

    def _moved(self, words: str, value: float) -> None:
        self.by[words] = value
        self.sliders[words].show_value(value)
        self.fields[words].show_value(value)
        self._apply()

    def showEvent(self, event: QShowEvent) -> None:
        """Stand over the column, so that the sheet is seen."""
        super().showEvent(event)
        parent = self.parentWidget()
        if parent is not None:
            self.move(parent.mapToGlobal(QPoint(px(8), px(56))))

    def reject(self) -> None:
        self.desk.document.give_up(self.visit)
        super().reject()

    def done(self, result: int) -> None:
        worker().drop(self)
        self.desk.document.end_visit()
        super().done(result)


def shares_of_work(design: Design, colours: tuple[str, ...], progress: Progress) -> dict[str, float]:
    """Return how much of its sheet each colour of a work is seen on, in per cent.

    Raises
    ------
    GivenUp, LimitError
    """
    evaluator = Evaluator()
    return shares_in_scene(make_scene(design, evaluator.design(design, progress), evaluator, progress=progress), colours, progress)
