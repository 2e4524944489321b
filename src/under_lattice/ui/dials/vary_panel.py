"""The small panel of what a number varies by: source, curve, chance, and the numbers that result."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDoubleSpinBox, QFrame, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QSpinBox, QWidget

from under_lattice.core.declare import NumberDial
from under_lattice.core.errors import InputError
from under_lattice.rules.base import Rule
from under_lattice.ui.dials.colour_panel import open_under
from under_lattice.ui.dials.curve import NumberStrip
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import QuietCombo
from under_lattice.vary.formula import FUNCTIONS, NAMES, at_step, read_formula
from under_lattice.vary.numbers import CHANNELS, CURVES, SENTENCES, Varied
from under_lattice.work.edits import edited

OWN_CHANNELS = ("step", "chance")


class VaryPanel(QFrame):
    """Opens under a row; every choice is taken at once."""

    def __init__(self, hand: Hand, name: str, sources: list[Rule]) -> None:
        super().__init__(None, Qt.WindowType.Popup)
        self.hand, self.name = hand, name
        self.setObjectName("popup")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAccessibleName("What it varies by")
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 12, 12, 12)
        grid.setVerticalSpacing(8)
        self.source = QuietCombo("Varies")
        for rule in sources:
            for channel in OWN_CHANNELS if rule.id == hand.rule_id else CHANNELS:
                words = SENTENCES[channel] + (f" ({rule.shown_name()})" if len(sources) > 1 else "")
                self.source.addItem(words, (rule.id, channel))
        self.source.setMinimumContentsLength(24)
        self.curve = QuietCombo("Curve")
        self.curve.addItems(CURVES)
        self.seed = QSpinBox()
        self.seed.setRange(0, 99999)
        self.seed.setAccessibleName("Seed of chance")
        self.seed_label = QLabel("Seed")
        self.repeats = QDoubleSpinBox()
        self.repeats.setRange(1.0, 1000.0)
        self.repeats.setDecimals(1)
        self.repeats.setAccessibleName("How many times it runs from start to end")
        self.strip = NumberStrip()
        for row, (words, part) in enumerate((("Varies", self.source), ("Curve", self.curve))):
            grid.addWidget(QLabel(words), row, 0)
            grid.addWidget(part, row, 1)
        grid.addWidget(self.seed_label, 2, 0)
        grid.addWidget(self.seed, 2, 1)
        grid.addWidget(QLabel("Repeats"), 3, 0)
        grid.addWidget(self.repeats, 3, 1)
        grid.addWidget(self.strip, 4, 0, 1, 2)
        self.formula = QLineEdit()
        self.formula.setAccessibleName("Formula")
        self.formula.setPlaceholderText("or a formula, such as 12 + 3 * k")
        self.formula.setToolTip("; ".join(f"{name}: {words}" for name, words in NAMES.items()) + ". " + ", ".join(FUNCTIONS))
        self.said = QLabel("")
        self.said.setObjectName("hint")
        self.said.setWordWrap(True)
        grid.addWidget(QLabel("Formula"), 6, 0)
        grid.addWidget(self.formula, 6, 1)
        grid.addWidget(self.said, 7, 0, 1, 2)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        for words, act in (("Swap ends", self._swap), ("Stop varying", self._stop)):
            button = QPushButton(words)
            button.clicked.connect(act)
            buttons.addWidget(button)
        grid.addLayout(buttons, 8, 0, 1, 2)
        self._show()
        self.source.activated.connect(
            lambda at: self._change(rule=self.source.itemData(at)[0], channel=self.source.itemData(at)[1])
        )
        self.curve.textActivated.connect(lambda curve: self._change(curve=curve))
        self.seed.valueChanged.connect(lambda seed: self._change(seed=seed))
        self.repeats.valueChanged.connect(lambda repeats: self._change(repeats=repeats))
        self.formula.textEdited.connect(self._typed)

    @property
    def number(self) -> Any:
        """The number in the work."""
        return getattr(self.hand.rule, self.name)

    def _show(self) -> None:
        number = self.number
        if not isinstance(number, Varied):
            return
        known = [tuple(self.source.itemData(at)) for at in range(self.source.count())]
        wanted = (number.rule, number.channel)
        self.source.setCurrentIndex(known.index(wanted) if wanted in known else -1)
        self.curve.setCurrentText(number.curve)
        self.seed.setValue(number.seed)
        self.repeats.setValue(number.repeats)
        if not self.formula.hasFocus():
            self.formula.setText(number.formula)
        for part in (self.curve, self.repeats):
            part.setEnabled(not number.formula)
        self.said.setText("")
        by_chance = number.channel in ("chance", "noise")
        self.seed.setVisible(by_chance)
        self.seed_label.setVisible(by_chance)
        dial = self.hand.rule.dials()[self.name]
        digits = dial.digits if isinstance(dial, NumberDial) else 2
        self.strip.show_number(number, self.hand.unit_of(self.name), digits, self._steps(number))

    def _change(self, **changes: Any) -> None:
        if isinstance(self.number, Varied):
            self.hand.turn(self.name, edited(self.number, **changes))
            self._show()

    def _typed(self, text: str) -> None:
        """Take a formula as soon as it can be read; until then say what is wrong, and nothing changes."""
        number = self.number
        if not isinstance(number, Varied):
            return
        if not text.strip():
            self._change(formula="")
            return
        try:
            formula = read_formula(text)
            count = self._steps(number)
            first, last = (float(self.dial_check(at_step(formula, k, count))) for k in (0, max(0, count - 1)))
            refused = self.hand.turn(self.name, edited(number, formula=text, start=first, end=last))
        except InputError as error:
            refused = error.message
        if refused:
            self.said.setText(refused[:1].upper() + refused[1:])
        else:
            self._show()

    def dial_check(self, value: float) -> float:
        """Hold a first or last value to the dial's range.

        Raises
        ------
        InputError
        """
        dial = self.hand.rule.dials()[self.name]
        assert isinstance(dial, NumberDial)
        return float(dial.check(round(value) if dial.kind == "count" else value))

    def _steps(self, number: Varied) -> int:
        return self.hand.facts.steps.get(number.rule, 1)

    def _swap(self) -> None:
        if isinstance(self.number, Varied):
            self._change(start=self.number.end, end=self.number.start)

    def _stop(self) -> None:
        if isinstance(self.number, Varied):
            self.hand.turn(self.name, self.number.start)
        self.close()

    def open_under(self, anchor: QWidget) -> None:
        """Show the panel under a widget, on the screen."""
        open_under(self, anchor)
        self.source.setFocus()
