"""The small panel of what a number varies by: source, curve, chance, and the numbers that result."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.units import parted, short, typed
from under_lattice.declare.dials import NumberDial, Seed
from under_lattice.declare.frozen import edited
from under_lattice.rules.base import Rule
from under_lattice.ui.dials.colour_panel import fit_on_screen, open_under
from under_lattice.ui.dials.curve import NumberStrip
from under_lattice.ui.dials.curve_editor import CurveEditor
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.picture_row import PicturePick
from under_lattice.ui.look.numerals import capital, decimal_sign
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.words import Words
from under_lattice.vary.formula import FUNCTIONS, NAMES
from under_lattice.vary.numbers import CHANNELS, CURVES, MIXES, SENTENCES, Second, Varied
from under_lattice.vary.walk import ONE_COPY, Walk
from under_lattice.work.named import named_in

OWN_CHANNELS = ("step", "chance", "loop")
SEED = Seed("Seed of chance", "Another seed, other chances.")
REPEATS = NumberDial("Repeats", "How many times it runs from start to end.", least=1, most=1000, step=1, digits=1)


class VaryPanel(QFrame):
    """Opens under a row; every choice is taken at once."""

    closed = Signal()

    def __init__(self, hand: Hand, name: str, sources: list[Rule]) -> None:
        super().__init__(None, Qt.WindowType.Popup)
        self.hand, self.name = hand, name
        self._visit = object()
        self.setObjectName("popup")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAccessibleName("What it varies by")
        self.source = self._source_list("Varies", sources)
        self.second = self._source_list("Together with", sources, "nothing else")
        self.how = QuietCombo("How the two are taken together")
        self.how.addItems(MIXES)
        self.curve = QuietCombo("Curve")
        self.curve.addItems(CURVES)
        self.picture, self.picture_label = PicturePick(hand, "Picture whose brightness is read"), Words("Picture")
        self.seed, self.repeats = self._field(SEED), self._field(REPEATS)
        self.seed_label, self.how_label = Words("Seed"), Words("Taken")
        self.taken = self._line("Values taken in turn", "values in turn, such as 10 20 15")
        self.taken.setToolTip("Instead of going from start to end, these values are taken one after the other.")
        self.midway_label = Words("Midway")
        self.midway = self._line("Start and end midway through the loop", "start and end midway through the loop")
        self.midway.setToolTip("Two numbers, such as 10 40: over the loop both ends go there and back.")
        self.formula = self._line("Formula", "or a formula, such as 12 + 3 * k")
        self.formula.setToolTip("; ".join(f"{name}: {words}" for name, words in NAMES.items()) + ". " + ", ".join(FUNCTIONS))
        self.drawn, self.strip = CurveEditor(), NumberStrip()
        self.said = Words("")
        self.said.setObjectName("hint")
        self.said.setWordWrap(True)
        self._lay_out()
        self._show()
        self._connect()

    def closeEvent(self, event: QCloseEvent) -> None:
        super().closeEvent(event)
        self.closed.emit()

    def _field(self, dial: NumberDial) -> NumberField:
        field = NumberField(dial, "", self.hand.sheet.resolution, dial.label)
        field.nudged.connect(field.step_seen)
        field.refused.connect(self._say)
        return field

    @staticmethod
    def _line(name: str, example: str) -> QLineEdit:
        line = QLineEdit()
        line.setAccessibleName(name)
        line.setPlaceholderText(example)
        return line

    def _lay_out(self) -> None:
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 12, 12, 12)
        grid.setVerticalSpacing(8)
        rows: dict[QWidget, str | QLabel] = {
            self.source: "Varies", self.picture: self.picture_label, self.second: "With", self.how: self.how_label,
            self.curve: "Curve", self.seed: self.seed_label, self.repeats: "Repeats", self.midway: self.midway_label,
            self.taken: "In turn",
            self.drawn: "", self.strip: "", self.formula: "Formula", self.said: "",
        }  # fmt: skip
        for row, (part, label) in enumerate(rows.items()):
            if label:
                grid.addWidget(label if isinstance(label, QLabel) else Words(label), row, 0)
            grid.addWidget(part, row, 1 if label else 0, 1, 1 if label else 2)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        for words, act in (("Swap ends", self._swap), ("Stop varying", self._stop)):
            button = QPushButton(words)
            button.clicked.connect(act)
            buttons.addWidget(button)
        grid.addLayout(buttons, len(rows), 0, 1, 2)

    def _connect(self) -> None:
        self.source.activated.connect(
            lambda at: self._change(rule=self.source.itemData(at)[0], channel=self.source.itemData(at)[1])
        )
        self.second.activated.connect(lambda _: self._change_second())
        self.how.activated.connect(lambda _: self._change_second())
        self.curve.textActivated.connect(self._change_curve)
        self.drawn.changed.connect(lambda points: self._change(curve="drawn", points=points))
        self.taken.textEdited.connect(self._typed_values)
        self.midway.textEdited.connect(self._typed_midway)
        self.picture.picked.connect(self._change_picture)
        self.picture.refused.connect(self._told)
        self.seed.entered.connect(lambda seed: self._change(seed=round(seed)))
        self.repeats.entered.connect(lambda repeats: self._change(repeats=repeats))
        self.formula.textEdited.connect(self._typed)
        for line in (self.taken, self.midway, self.formula):
            line.editingFinished.connect(self._end_visit)

    def _end_visit(self) -> None:
        """What is typed from now on is another step of undo."""
        self._visit = object()
        self.hand.document.end_visit()

    def _source_list(self, name: str, sources: list[Rule], none: str = "") -> QuietCombo:
        """A list of the readings of all sources; with `none` first."""
        combo = QuietCombo(name)
        if none:
            combo.addItem(none, None)
        for rule in sources:
            for channel in self._channels(rule):
                words = SENTENCES[channel] + (f" ({rule.shown_name()})" if len(sources) > 1 else "")
                combo.addItem(words, (rule.id, channel))
        combo.setMinimumContentsLength(24)
        return combo

    def _channels(self, rule: Rule) -> tuple[str, ...]:
        """The readings of a rule a number may vary by; parts only where marks are inked."""
        if rule.id == self.hand.rule_id and self.name != "level":  # levels are read when the copies stand
            return tuple(one for one in OWN_CHANNELS if one not in self._without_loop())
        hidden = {"part"} if self.hand.rule.family != "paint" else set()
        return tuple(one for one in CHANNELS if one not in hidden | self._without_loop())

    def _without_loop(self) -> set[str]:
        """The reading of the loop, which the window does not show yet, is offered only where a number reads it already."""
        number = self.number
        return set() if isinstance(number, Varied) and number.channel == "loop" else {"loop"}

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
        self.seed.show_value(number.seed)
        self.repeats.show_value(number.repeats)
        second = number.second
        listed = [self.second.itemData(at) for at in range(self.second.count())]
        wanted_second = (second.rule, second.channel) if second is not None else None
        self.second.setCurrentIndex(listed.index(wanted_second) if wanted_second in listed else -1)
        self.how.setCurrentText(second.how if second is not None else MIXES[0])
        if not self.formula.hasFocus():
            self.formula.setText(number.formula)
        if not self.taken.hasFocus():
            self.taken.setText(" ".join(short(value, 4) for value in number.taken))
        if not self.midway.hasFocus():
            self.midway.setText(" ".join(short(value, 4) for value in number.midway or ()))
        runs = not number.formula and not number.taken
        seen = "picture" in (number.channel, second.channel if second else "")
        self.picture.show_picture(number.picture or (second.picture if second else ""))
        self.picture.setVisible(seen and runs)
        self.picture_label.setVisible(seen and runs)
        self.midway.setEnabled(runs)
        for shown_late in (self.midway, self.midway_label):
            shown_late.setVisible(number.midway is not None or number.channel == "loop")
        for part in (self.second, self.curve, self.repeats):
            part.setEnabled(runs)
        self.taken.setEnabled(not number.formula)
        for shown in (self.how, self.how_label):
            shown.setVisible(second is not None and runs)
        self.drawn.setVisible(number.curve == "drawn" and runs)
        self.drawn.show_points(number.points)
        self.said.setText("")
        if self.isVisible():
            fit_on_screen(self, self.screen().availableGeometry())
        by_chance = number.channel in ("chance", "noise")
        self.seed.setVisible(by_chance)
        self.seed_label.setVisible(by_chance)
        dial = self.hand.rule.dials()[self.name]
        digits = dial.digits if isinstance(dial, NumberDial) else 2
        self.strip.show_number(number, self.hand.unit_of(self.name), digits, self._walk(number))

    def _change(self, **changes: Any) -> None:
        if isinstance(self.number, Varied):
            self.hand.turn(self.name, edited(self.number, **changes))
            self._show()

    def _change_curve(self, curve: str) -> None:
        self._change(curve=curve, **({"points": self.drawn.points} if curve == "drawn" else {}))

    def _change_second(self) -> None:
        found = self.second.currentData()
        picture = self.number.picture
        second = Second(rule=found[0], channel=found[1], how=self.how.currentText(), picture=picture) if found else None
        self._change(second=second)

    def _change_picture(self, picture: str, visit: object) -> None:
        number = self.number
        if isinstance(number, Varied):
            second = edited(number.second, picture=picture) if number.second is not None else None
            self._told(self.hand.turn(self.name, edited(number, picture=picture, second=second), visit))

    def _typed_midway(self, text: str) -> None:
        """Take both ends midway through the loop as soon as both can be read."""
        number, refused = self.number, ""
        if not isinstance(number, Varied):
            return
        try:
            values = self._values(text)
            if len(values) not in (0, 2):
                refused = "two numbers are expected: where the start and the end are midway through the loop"
            else:
                refused = self.hand.turn(self.name, edited(number, midway=values or None), self._visit)
        except InputError as error:
            refused = error.message
        self._told(refused)

    def _values(self, text: str) -> tuple[float, ...]:
        """Numbers of a list, each held to the dial's range.

        Raises
        ------
        InputError
        """
        unit = self.hand.unit_of(self.name)
        return tuple(self.dial_check(typed(word, unit, self.hand.sheet.resolution, None, decimal_sign())) for word in parted(text))

    def _typed_values(self, text: str) -> None:
        """Take values in turn as soon as all can be read."""
        number, refused = self.number, ""
        if not isinstance(number, Varied):
            return
        try:
            refused = self.hand.turn(self.name, edited(number, taken=self._values(text)), self._visit)
        except InputError as error:
            refused = error.message
        self._told(refused)

    def _typed(self, text: str) -> None:
        """Take a formula as soon as it can be read; until then say what is wrong, and nothing changes."""
        number = self.number
        if not isinstance(number, Varied):
            return
        if not text.strip():
            self._told(self.hand.turn(self.name, edited(number, formula=""), self._visit))
            return
        try:
            number = edited(number, named=named_in(self.hand.document.design, text), formula=text)
            first, last = map(self.dial_check, number.ends(self._walk(number)))
            refused = self.hand.turn(self.name, edited(number, start=first, end=last), self._visit)
        except InputError as error:
            refused = error.message
        self._told(refused)

    def _told(self, refused: str) -> None:
        """Say why what was typed is not taken, or show it taken."""
        if not refused:
            self._show()
        self._say(refused)

    def _say(self, sentence: str) -> None:
        self.said.setText(capital(sentence))

    def dial_check(self, value: float) -> float:
        """Hold a first or last value to the dial's range.

        Raises
        ------
        InputError
        """
        dial = self.hand.rule.dials()[self.name]
        assert isinstance(dial, NumberDial)
        return float(dial.check(round(value) if dial.kind == "count" else value))

    def _walk(self, number: Varied) -> Walk:
        return self.hand.facts.walks.get(number.rule, ONE_COPY)

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
