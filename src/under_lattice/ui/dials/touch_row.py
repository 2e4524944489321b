"""A row of copies picked by hand: which one, its numbers, and a way to let it go."""

from __future__ import annotations

from functools import partial
from typing import ClassVar

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from under_lattice.declare.dials import Angle, Dial, Length, NumberDial, Ratio
from under_lattice.declare.drawn_dials import Touches
from under_lattice.declare.frozen import edited
from under_lattice.rules.shared.touches import Touch, place_words
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.words import Words


class TouchRow(DialRow):
    """The picked copies in a list; below it the numbers of the chosen one."""

    NUMBERS: ClassVar[dict[str, NumberDial]] = {
        "x": Length("across", "To the right."),
        "y": Length("down", "Downwards."),
        "turn": Angle("turn", "Clockwise, about its own middle."),
        "size": Ratio("size", "Of the copy.", least=0.1, most=10000.0),
    }

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.combo = QuietCombo(self.dial.label)
        self.combo.activated.connect(lambda _: self._show_numbers())
        self.drop = QPushButton("let go")
        self.drop.setToolTip("The chosen copy is as it was again.")
        self.drop.clicked.connect(self._let_go)
        self.line.addWidget(self.combo, 1)
        self.line.addWidget(self.drop)
        self.none = Words("none yet: press one on the sheet")
        self.none.setObjectName("small")
        self.line.addWidget(self.none, 1)
        self.fields: dict[str, NumberField] = {}
        self.box = QWidget()
        grid = QGridLayout(self.box)
        grid.setContentsMargins(2, 0, 0, 2)
        grid.setVerticalSpacing(3)
        for at, (key, dial) in enumerate(self.NUMBERS.items()):
            unit = dial.unit or hand.sheet.unit
            field = NumberField(dial, unit, hand.sheet.resolution, dial.label)
            field.entered.connect(partial(self._entered, key))
            field.refused.connect(self.refuse)
            field.abandoned.connect(partial(hand.document.give_up, field))
            field.left.connect(hand.document.end_visit)
            field.scale = hand.scale
            field.nudged.connect(field.step_seen)
            self.fields[key] = field
            label = Words(dial.label)
            label.setObjectName("small")
            grid.addWidget(label, at // 2, at % 2 * 2)
            grid.addWidget(field, at // 2, at % 2 * 2 + 1)
        self.below.addWidget(self.box)

    @property
    def chosen(self) -> int:
        """Which of the picked copies is shown."""
        return max(0, min(self.combo.currentIndex(), len(self.value) - 1))

    def refresh(self) -> None:
        names = {rule.id: rule.shown_name() for rule in self.hand.owner.own_rules}
        words = [f"{k + 1}: {place_words(touch, names)}" for k, touch in enumerate(self.value)]
        if [self.combo.itemText(k) for k in range(self.combo.count())] != words:
            more = len(words) > self.combo.count()
            at = len(words) - 1 if more else self.chosen
            self.combo.clear()
            self.combo.addItems(words)
            self.combo.setCurrentIndex(at)
        for one, there in ((self.combo, words), (self.drop, words), (self.none, not words)):
            one.setVisible(bool(there))
        self._show_numbers()

    def _show_numbers(self) -> None:
        dial: Dial = self.dial
        moves = isinstance(dial, Touches) and dial.moves and bool(self.value)
        self.box.setVisible(moves)
        if moves:
            for key, field in self.fields.items():
                field.show_value(getattr(self.value[self.chosen], key))

    def _entered(self, key: str, number: float) -> None:
        touches: tuple[Touch, ...] = self.value
        k = self.chosen
        self.turn((*touches[:k], edited(touches[k], **{key: number}), *touches[k + 1 :]), self.fields[key])

    def _let_go(self) -> None:
        k = self.chosen
        self.turn((*self.value[:k], *self.value[k + 1 :]))
