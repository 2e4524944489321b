"""The inside of an open card: the dials of one rule, built from its declaration."""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable, Mapping

from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from under_lattice.declare.dials import Dial
from under_lattice.rules.findings import NoEffect
from under_lattice.ui.dials import row_for
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.number_row import NumberRow
from under_lattice.ui.dials.parts import NoEffectLine
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, on_button, say_more, tip
from under_lattice.ui.workers.worker import worker
from under_lattice.vary.numbers import Varied

ROW = 14  # px, half of a row: parts so near in height stand in one
MAIN = "main"
FEW = 4  # folded rows that need no headings
AT_ONCE = 0.012  # s that rows are made for before anything else is heard


class Rows(dict[str, DialRow]):
    """Rows by their dials, each made when it is first shown or asked for: a card of sixty dials opens with the ten it shows."""

    def __init__(self, make: Callable[[str], DialRow]) -> None:
        super().__init__()
        self._make = make

    def __missing__(self, name: str) -> DialRow:
        return self._make(name)


class RuleForm(QWidget):
    """Main dials, then one line that unfolds the rest."""

    wanted = Signal(str)  # id of another rule whose card shall open
    grown = Signal()

    def __init__(self, hand: Hand, unfolded: bool) -> None:
        super().__init__()
        self.hand = hand
        self.dials = hand.rule.dials()
        self.rows = Rows(self._row)
        columns = dict.fromkeys((MAIN, "", *(dial.group for dial in self.dials.values())))
        ordered = (name for column in columns for name, dial in self.dials.items() if self._column(dial) == column)
        self._order = {name: at for at, name in enumerate(ordered)}  # from top to bottom
        self.follows: QWidget | None = None  # what Tab comes from
        self._effects: Mapping[str, NoEffect] = {}
        self._ordering = QTimer(self, singleShot=True, interval=0)
        self._ordering.timeout.connect(self._order_tabs)
        self._making = QTimer(self, singleShot=True, interval=0)
        self._making.timeout.connect(self._go_on_making)
        self._wanted: list[str] = []  # dials whose rows are still to be made
        self._idle: set[str] = set()
        self._listed: tuple[object, ...] = ()  # what the line of the folded rows says now
        self._moves = False  # whether anything moved when it was last shown
        self._without: tuple[str, ...] = ()  # that are there and have no effect
        self._pairs = {beside: name for name, dial in self.dials.items() if (beside := getattr(dial, "beside", ""))}
        self._apart: set[str] = set()  # of the pairs, those that have a row each
        self._tied = {name: tied for name, dial in self.dials.items() if (tied := getattr(dial, "tied", None))}
        whole = self._outer = QVBoxLayout(self)
        whole.setContentsMargins(8, 4, 8, 6)
        whole.setSpacing(0)
        self.whole: NoEffectLine | None = None  # of the rule itself
        self._columns: dict[str, QVBoxLayout] = {MAIN: QVBoxLayout()}  # of the main rows, and of each group of folded ones
        whole.addLayout(self._columns[MAIN])
        self.more = QPushButton("")
        self.more.setObjectName("more")
        self.more.setCheckable(True)
        self.more.setChecked(unfolded)
        self.more.toggled.connect(self._unfold)
        whole.addWidget(self.more)
        self.folded = QWidget()
        inner = QVBoxLayout(self.folded)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(0)
        self._headings: dict[str, QLabel] = {}
        self._fill(inner)
        self._linked = QVBoxLayout()
        inner.addLayout(self._linked)
        self._links: tuple[tuple[str, str], ...] = ()
        whole.addWidget(self.folded)
        self.refresh()
        self._unfold(unfolded)

    def _fill(self, inner: QVBoxLayout) -> None:
        """Make room for the folded rows, those of one group together under its heading."""
        groups = dict.fromkeys(("", *(dial.group for dial in self.dials.values() if not dial.main)))
        for group in groups:
            if group:
                heading = self._headings[group] = Words(group)
                heading.setObjectName("group")
                inner.addWidget(heading)
            self._columns[group] = QVBoxLayout()
            inner.addLayout(self._columns[group])

    def _row(self, name: str) -> DialRow:
        """Make the row of a dial, in its place among those that are there."""
        row, column = row_for(self.hand, name), self._column(self.dials[name])
        before = [
            one for one, made in self.rows.items() if self._column(made.dial) == column and self._order[one] < self._order[name]
        ]
        self.rows[name] = row
        if name in self._pairs and isinstance(row, NumberRow):
            row.show_joined(name not in self._apart)
        row.refresh()
        row.relate()
        row.show_stepped()
        if name in self._effects:
            row.show_no_effect(self._effects[name])
        if name in self._pairs and isinstance(row, NumberRow):
            row.unfolded.connect(lambda: self._part(name))
        elif name in self._pairs.values():
            other = next(one for one, its in self._pairs.items() if its == name)
            fold = QPushButton(f"One {getattr(row.dial, 'both', '').lower()} for both")
            fold.setObjectName("link")
            fold.clicked.connect(lambda: self._join(other))
            row.below.addWidget(fold)
        row.wanted.connect(self.wanted)
        self._columns[column].insertWidget(len(before), row)  # whole: what is added to it later is seen later
        row.setVisible(name not in self._idle)
        return row

    @staticmethod
    def _column(dial: Dial) -> str:
        return MAIN if dial.main else dial.group

    def event(self, event: QEvent) -> bool:
        done = super().event(event)
        if event.type() in (QEvent.Type.LayoutRequest, QEvent.Type.Show):
            self.order_tabs_soon()
        return done

    def order_tabs_soon(self) -> None:
        """Put the order of Tab right, once for all that changes now."""
        if not self._ordering.isActive():
            self._ordering.start()

    def _order_tabs(self) -> None:
        """Let Tab go from top to bottom and from left to right, in whatever order the parts were made."""
        parts = [one for one in self.findChildren(QWidget) if one.focusPolicy() & Qt.FocusPolicy.TabFocus and one.isVisible()]
        places = {one: one.mapTo(self, one.rect().center()) for one in parts}
        ordered = sorted(parts, key=lambda one: (round(places[one].y() / ROW), places[one].x()))
        first = [] if self.follows is None else [self.follows]
        for before, after in itertools.pairwise([*first, *ordered]):
            QWidget.setTabOrder(before, after)

    def take_focus(self) -> None:
        """Put the focus on the first dial that is shown."""
        if not self.rows:
            self._make_some(0.0)
        row = next((self.rows[name] for name in self._order if name in self.rows and not self.rows[name].isHidden()), None)
        if row is not None:
            row.take_focus()

    def show_row(self, name: str) -> None:
        """Unfold what hides a row."""
        if not self.dials[name].main:
            self.more.setChecked(True)

    def refresh(self) -> None:
        """Show the rule as it is now; dials without effect are hidden, or dimmed where they are folded."""
        rule = self.hand.rule
        self._idle = rule.idle_dials() | self._joined()
        self._effects = effects = self.hand.without_effect()
        moves, self._wanted = bool(self.hand.document.work.design.motions), []
        for name, dial in self.dials.items():
            shown = name not in self._idle or (name in self._tied and self._stands_derived(name))
            if name in self.rows:
                row = self.rows[name]
                row.setVisible(shown)
                if shown:
                    row.refresh()
                    if moves or self._moves:
                        row.show_moving()
            elif shown and (dial.main or self.more.isChecked()):
                self._wanted.append(name)
        self._make_some() if self.rows else self._making.start()  # a card that opens has its rows in the next passes
        if self.whole is not None or "" in effects:
            self._show_whole(effects.get(""))
        for name in ({*effects, *self._without} - {""}) & self.rows.keys():
            self.rows[name].show_no_effect(effects.get(name))
        self._without, self._moves = tuple(effects), moves
        self._show_links()
        self._show_more()

    def _show_whole(self, found: NoEffect | None) -> None:
        """Say above all rows that the rule itself changes nothing, or nothing."""
        if self.whole is None:
            self.whole = NoEffectLine()
            self.whole.cured.connect(self.hand.give_effect)
            self._outer.insertWidget(0, self.whole)
        self.whole.show_found(found)

    @property
    def made(self) -> bool:
        """Whether all rows it shows are there."""
        return not self._making.isActive()

    def _make_some(self, seconds: float = AT_ONCE) -> None:
        """Make a few of the rows that are wanted, from the top; the others follow, so that a long card holds nobody up."""
        wanted = sorted((name for name in self._wanted if name not in self.rows), key=self._order.__getitem__)
        begun, made = time.perf_counter(), 0
        while made < len(wanted) and (not made or time.perf_counter() < begun + seconds):
            self.rows[wanted[made]].setVisible(True)
            made += 1
        self._wanted = wanted[made:]
        if self._wanted:
            self._making.start()

    def make_no_more(self) -> None:
        """Leave what is not made, and what its rows wait for; the rule is gone."""
        self._making.stop()
        self._wanted = []
        for row in self.rows.values():
            worker().drop(row)

    def _go_on_making(self) -> None:
        self._make_some()
        self.grown.emit()

    def _joined(self) -> set[str]:
        """Join the pairs that are alike, unless the person has parted them; returns the dials that have no row then."""
        rule, folded = self.hand.rule, set()
        for one, other in self._pairs.items():
            if getattr(rule, one) != getattr(rule, other):
                self._apart.add(one)
            joined = one not in self._apart
            self.hand.joined = (
                {**self.hand.joined, one: other} if joined else {k: v for k, v in self.hand.joined.items() if k != one}
            )
            folded |= {other} if joined else set()
            row = self.rows.get(one)
            if isinstance(row, NumberRow):
                row.show_joined(joined)
        return folded

    def _part(self, one: str) -> None:
        """Give each of a pair its own row."""
        self._apart.add(one)
        self.refresh()
        self.grown.emit()
        self.rows[one].take_focus()

    def _join(self, one: str) -> None:
        """Make one number of a pair, the first."""
        self._apart.discard(one)
        self.hand.turn(self._pairs[one], getattr(self.hand.rule, one))
        self.refresh()
        self.grown.emit()
        self.rows[one].take_focus()

    def _stands_derived(self, name: str) -> bool:
        """Whether an idle number is shown as it follows from a choice: only from that, and not yet at the end of its row."""
        tied = self._tied[name]
        rule, dials = self.hand.rule, self.hand.rule.dials()
        if self.hand.derived(name) is None or name == getattr(dials[tied.field], "shows", ""):
            return False
        return all(getattr(rule, when.field) in when.values for when in dials[name].when if when.field != tied.field)

    def _show_more(self) -> None:
        """Say what is folded; many rows stand under headings."""
        shown = tuple(name for name in self._order if not self.dials[name].main and name not in self._idle)
        state = (shown, self._links, self.more.isChecked())
        if state == self._listed:
            return
        self._listed = state
        names = [self.dials[name].label for name in shown] + [words for _, words in self._links]
        self.more.setVisible(bool(names))
        say_more(self.more, names, self.more.isChecked(), px(250))
        groups = {self.dials[name].group for name in shown}
        for group, heading in self._headings.items():
            heading.setVisible(len(shown) > FEW and len(groups) > 1 and group in groups)

    def _show_links(self) -> None:
        """List what varies over this repeat though it stands in another card; it is the same dial shown twice."""
        found, own = [], self.hand.rule
        if own.family == "repeat":
            for other in self.hand.owner.own_rules:
                for name, dial in other.dials().items():
                    value = getattr(other, name)
                    if isinstance(value, Varied) and value.rule == own.id != other.id:
                        found.append((other.id, f"{other.shown_name()}: {dial.label}"))
        if tuple(found) == self._links:
            return
        self._links = tuple(found)
        emptied(self._linked)
        for rule_id, words in found:
            said = f"{words} varies over this"
            link = QPushButton()
            link.setObjectName("linkSaf")
            link.setStyleSheet("padding-left: 2px")
            link.setText(on_button(link.fontMetrics().elidedText(said, Qt.TextElideMode.ElideMiddle, px(244))))
            link.setAccessibleName(said)
            link.setToolTip(tip(said))
            link.setCursor(Qt.CursorShape.PointingHandCursor)
            link.clicked.connect(lambda _=False, i=rule_id: self.wanted.emit(i))
            self._linked.addWidget(link)

    def _unfold(self, on: bool) -> None:
        self.folded.setVisible(on)
        if on:
            self.refresh()
        self._show_more()
        self.grown.emit()
