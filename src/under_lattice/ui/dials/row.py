"""What all dial rows share, and the rows of choices, texts, points and rules."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QMimeData, QPoint, Qt, Signal
from PySide6.QtGui import QAction, QGuiApplication, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QMenu, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Choice, Dial, NumberDial, RuleChoice
from under_lattice.explore.movable import steady
from under_lattice.rules.findings import NoEffect
from under_lattice.ui.dialogs.command_search import HERE, Entry
from under_lattice.ui.dials.carrying import carried
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.line import Line
from under_lattice.ui.dials.move_actions import begin, ends_of, move_entries, moves_words
from under_lattice.ui.dials.parts import NoEffectLine, ScrubLabel, Segments
from under_lattice.ui.look.layouts import once_released
from under_lattice.ui.look.numerals import as_written_here, capital
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Remark, Words
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address

LABEL_WIDTH = 76
COMBO_FRAME = 34  # px of a list beside its words: margins and arrow


class DialRow(QWidget):
    """One dial of a rule in its row; `below` holds the nudge row and the error sentence."""

    wanted = Signal(str)  # a card that shall open, or a layer that shall be shown

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__()
        self.hand, self.name = hand, name
        self.dial: Dial = hand.rule.dials()[name]
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        self.line = QHBoxLayout()
        self.line.setContentsMargins(0, 2, 0, 2)
        self.line.setSpacing(3)
        whole.addLayout(self.line)
        self.below = QVBoxLayout()
        self.below.setContentsMargins(0, 0, 0, 0)
        whole.addLayout(self.below)
        self.label = ScrubLabel(self.dial.label, scrubs=False)
        self.label.setFixedWidth(self.label_width())
        self.label.setToolTip(self.dial.words)
        self.label.reset.connect(self.reset)
        self.label.carries = self._carried
        self.line.addWidget(self.label)
        self.idle: NoEffectLine | None = None
        self.moving = Remark("hintSaf")  # how it moves over the loop
        self.error, self._refusal = Remark("error", wraps=True), ""
        self.below.addLayout(self.error)
        self.below.addLayout(self.moving)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.customContextMenuRequested.connect(self._menu_at)

    def relate(self) -> None:
        """Let the label name the first part that takes keys."""
        for part in self.findChildren(QWidget):
            if part.focusPolicy() & Qt.FocusPolicy.TabFocus and part is not self.label:
                self.label.setBuddy(part)
                return

    def label_width(self) -> int:
        """Return the width of the label: that of its column, or more where its words need it."""
        return max(px(LABEL_WIDTH), self.label.fontMetrics().horizontalAdvance(self.label.text()) + 2)

    def _carried(self) -> QMimeData | None:
        """What is dragged out of the row: the dial, of one that varies its end."""
        if steady(self.dial):
            return None
        end = "end" if isinstance(self.value, Varied) and not (self.value.formula or self.value.taken) else ""
        return carried(Address(self.hand.layer, self.hand.rule_id, self.name, end))

    @property
    def value(self) -> Any:
        """The dial's value in the work."""
        return getattr(self.hand.rule, self.name)

    def take_focus(self) -> None:
        """Put the focus on the first part that takes keys."""
        for part in self.findChildren(QWidget):
            if part.isVisibleTo(self) and part.focusPolicy() & Qt.FocusPolicy.TabFocus:
                part.setFocus(Qt.FocusReason.ShortcutFocusReason)
                if isinstance(part, QLineEdit):
                    part.selectAll()  # in a window that is not active yet the focus comes later
                return

    def refresh(self) -> None:
        """Show the work as it is now."""

    def show_stepped(self) -> None:
        """Show whether the dial is on the test strip."""

    def refuse(self, sentence: str) -> None:
        """Show why a value was not taken, or nothing."""
        if sentence != self._refusal:
            self._refusal = sentence
            once_released(self, self._show_refused)

    def _show_refused(self) -> None:
        self.error.say(capital(self._refusal))

    def show_no_effect(self, found: NoEffect | None) -> None:
        """Say that the dial changes nothing now, with what would give it an effect; or nothing."""
        if self.idle is None:
            if found is None:
                return
            self.idle = NoEffectLine()
            self.idle.cured.connect(self.hand.give_effect)
            self.below.addWidget(self.idle)
        self.idle.show_found(found)

    def turn(self, value: Any, visit: object | None = None) -> None:
        """Set the dial and show a refusal."""
        self.refuse(self.hand.turn(self.name, value, visit))

    def reset(self) -> None:
        """Put the dial back to its default."""
        self.turn(type(self.hand.rule).model_fields[self.name].default)

    def actions_here(self) -> list[tuple[str, Any, bool]]:
        """Return entries of the context menu: words, what to do, whether it can be done."""
        strips = [("Test strip of this", partial(self.hand.ask, "strip", self.name), True)]
        if isinstance(self.value, Varied):
            ends = () if self.value.formula or self.value.taken else ("start", "end")
            strips = [(f"Test strip of its {end}", partial(self.hand.ask, "strip", self.name, end), True) for end in ends]
        if steady(self.dial):
            strips = []
        others = [
            ("Siblings of this", partial(self.hand.ask, "siblings", self.name), not steady(self.dial)),
            ("Lock all but this", partial(self.hand.ask, "lock but", self.name), True),
        ]
        moves = move_entries(self.hand, self.name)
        return [*moves, *strips, *others, ("Reset", self.reset, True), ("Copy value", self._copy, True)]

    def _copy(self) -> None:
        QGuiApplication.clipboard().setText(str(self.value))

    def menu(self) -> QMenu:
        """Return the context menu."""
        menu = PopupMenu(self)
        for words, act, possible in self.actions_here():
            entry = QAction(words, menu)
            entry.setEnabled(possible)
            entry.triggered.connect(lambda _=False, a=act: a())
            menu.addAction(entry)
        return menu

    def _menu_at(self, at: QPoint) -> None:
        self.menu().popup(self.mapToGlobal(at))

    def move_over_loop(self) -> None:
        """Let the dial, or the end of one that varies, move over the loop; one that moves is taken in hand."""
        ends = ends_of(self.hand, self.name)
        if ends:
            begin(self.hand, "hung", self.name, ends[-1])

    def show_moving(self) -> None:
        """Show whether the dial moves."""
        words = moves_words(self.hand, self.name)
        self.moving.say(words)
        moves = "moves" if words else ""
        if (self.label.property("moves") or "") != moves:
            self.label.setProperty("moves", moves)
            self.label.style().unpolish(self.label)
            self.label.style().polish(self.label)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_B and not event.modifiers():
            self.move_over_loop()
            return
        shifted = event.key() == Qt.Key.Key_F10 and event.modifiers() == Qt.KeyboardModifier.ShiftModifier
        if event.key() == Qt.Key.Key_Menu or shifted:
            self._menu_at(QPoint(px(LABEL_WIDTH), self.height()))
        else:
            super().keyPressEvent(event)


def row_of(focused: QWidget | None) -> DialRow | None:
    """Return the row of the dial that has the focus, if one has."""
    row = focused
    while row is not None and not isinstance(row, DialRow):
        row = row.parentWidget()
    return row


def row_entries(row: DialRow) -> list[Entry]:
    """Return what can be done with a dial, for the search."""
    said = [(words.removesuffix("…"), act) for words, act, possible in row.actions_here() if possible]
    return [Entry(f"{row.dial.label}: {words[:1].lower()}{words[1:]}", "this dial number", HERE, act) for words, act in said]


class ChoiceRow(DialRow):
    """One of a list of words, as glyphs or as a list; a derived number may stand at its end."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        assert isinstance(self.dial, Choice)
        self.segments: Segments | None = None
        self.combo: QComboBox | None = None
        if self.dial.pictures:
            self.segments = Segments(self.dial.options, self.dial.label)
            self.segments.chosen.connect(self.turn)
            self.line.addWidget(self.segments)
            self.label.setFixedWidth(min(self.label.width(), px(LABEL_WIDTH - 10)))  # eight signs stand beside it
            self.line.addStretch(1)
        else:
            self.combo = QuietCombo(self.dial.label)
            self.combo.addItems(self.dial.spoken or self.dial.options)
            self.combo.setToolTip(self.dial.words)
            self.combo.textActivated.connect(lambda words: self.turn(self.meant(words)))
            self.line.addWidget(self.combo, 1)
        self.derived: Words | None = None  # what follows from the choice
        self.derived_below, self._follows = False, ("", "", False)
        self.shown: NumberField | None = self._derived_field(self.dial.shows) if self.dial.shows else None

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place_derived()

    def _show_derived(self, words: str) -> None:
        if self.derived is None:
            if not words:
                return
            self.derived = Words("")
            self.derived.setObjectName("derived")
            self.derived.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.line.insertWidget(2, self.derived)
        self.derived.setText(words)
        self.derived.setVisible(bool(words))
        self._place_derived()

    def _place_derived(self) -> None:
        """Put what follows from the choice beside it, or below where the choice would be cut off."""
        if self.combo is None or self.derived is None or not self.derived.text():
            return
        words = self.combo.fontMetrics().horizontalAdvance(self.combo.currentText()) + px(COMBO_FRAME)
        words = max(words, self.combo.minimumSizeHint().width())
        follows = self.derived.fontMetrics().horizontalAdvance(self.derived.text())
        room = self.width() - self.label.width() - follows - 2 * self.line.spacing()
        room -= 0 if self.shown is None or self.shown.isHidden() else self.shown.width() + self.line.spacing()
        below = words > room
        if below != self.derived_below:
            self.derived_below = below
            self.derived.setWordWrap(below)
            (self.line if below else self.below).removeWidget(self.derived)
            if below:
                self.below.insertWidget(0, self.derived)
            else:
                self.line.insertWidget(2, self.derived)

    def meant(self, words: str) -> str:
        """Return the option that is said in these words."""
        assert isinstance(self.dial, Choice)
        return self.dial.options[self.dial.spoken.index(words)] if words in self.dial.spoken else words

    def said(self, option: str) -> str:
        """Return how an option is said."""
        assert isinstance(self.dial, Choice)
        return self.dial.spoken[self.dial.options.index(option)] if self.dial.spoken and option in self.dial.options else option

    def _derived_field(self, name: str) -> NumberField:
        """Return the field of a number that follows from this choice; typing in it frees the number."""
        dial = self.hand.rule.dials()[name]
        assert isinstance(dial, NumberDial)
        field = NumberField(dial, self.hand.unit_of(name), self.hand.sheet.resolution, dial.label)
        field.setProperty("derived", True)
        field.keep_whole(px(88))
        field.setToolTip(f"{dial.words} It follows from this choice; typing frees it.")
        visit = object()
        field.entered.connect(lambda value: self.refuse(self.hand.turn(name, value, visit)))
        field.refused.connect(self.refuse)
        field.abandoned.connect(lambda: self.hand.document.give_up(visit))
        field.left.connect(self.hand.document.end_visit)
        field.scale = self.hand.scale
        field.nudged.connect(field.step_seen)
        self.line.addWidget(field)
        return field

    def refresh(self) -> None:
        value = self.value
        if self.segments is not None:
            self.segments.show_value(value)
        if self.combo is not None and isinstance(self.dial, Choice):
            self.combo.setCurrentText(self.said(value) if self.dial.spoken else value)
        if self.shown is not None and isinstance(self.dial, Choice):
            follows = self.hand.derived(self.dial.shows)
            self.shown.setVisible(follows is not None or self.shown.hasFocus())
            if follows is not None:
                self.shown.show_value(follows)
        words = self.hand.words(self.name)
        beside = self.shown is not None and not self.shown.isHidden()
        if (value, words, beside) != self._follows:
            self._follows = value, words, beside
            self._show_derived(as_written_here(words) if words else "")


class ListRow(DialRow):
    """One of what there is in the work now, by its name; what is kept is its id."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.combo = QuietCombo(self.dial.label)
        self.combo.activated.connect(lambda at: self.turn(self.combo.itemData(at)))
        self.line.addWidget(self.combo, 1)

    def entries(self) -> list[tuple[str, str]]:
        """Return names and ids; none by itself."""
        return []

    def refresh(self) -> None:
        entries = self.entries()
        if [(self.combo.itemText(k), self.combo.itemData(k)) for k in range(self.combo.count())] != entries:
            self.combo.clear()
            for words, key in entries:
                self.combo.addItem(words, key)
        self.combo.setCurrentIndex(max(0, self.combo.findData(self.value)))


class RuleRow(ListRow):
    """A rule of the chain."""

    def entries(self) -> list[tuple[str, str]]:
        dial = self.dial
        assert isinstance(dial, RuleChoice)
        entries = [(words, key) for key, words in dial.others]
        entries += [(dial.nearest, "")] if dial.nearest else []
        for rule in self.hand.owner.own_rules:
            if rule.family == "repeat":
                entries.append((f"each copy of {rule.shown_name()}" if dial.others else rule.shown_name(), rule.id))
        return entries


class TextRow(DialRow):
    """A short text that is taken as soon as it can be read."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.field = Line(self._refused)
        self.field.setAccessibleName(self.dial.label)
        self.field.setToolTip(self.dial.words)
        self._taken: str | None = ""
        self.field.textEdited.connect(self._typed)
        self.field.editingFinished.connect(self.hand.document.end_visit)
        self.line.addWidget(self.field, 1)

    def _typed(self, text: str) -> None:
        try:
            self.hand.check(self.name, text)
        except InputError as error:
            self.refuse(error.message)
            return
        self._taken = None  # while it is taken over, the text stays as it is typed
        self.turn(text, self)
        self._taken = self.value

    def _refused(self, text: str) -> bool:
        try:
            self.hand.check(self.name, text)
        except InputError:
            return True
        return False

    def refresh(self) -> None:
        typing = self.field.hasFocus() and self._taken in (None, self.value)  # it may be kept in other words than were typed
        if self.field.text() != self.value and not typing and not self.field.half_typed():
            self.field.setText(self.value)
            self.field.setCursorPosition(0)
