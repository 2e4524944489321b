"""The inside of an open card: the dials of one rule, built from its declaration."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from under_lattice.ui.dials import row_for
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.layouts import emptied
from under_lattice.vary.numbers import Varied


class RuleForm(QWidget):
    """Main dials, then one line that unfolds the rest."""

    wanted = Signal(str)  # id of another rule whose card shall open
    grown = Signal()

    def __init__(self, hand: Hand, unfolded: bool) -> None:
        super().__init__()
        self.hand = hand
        self.rows: dict[str, DialRow] = {}
        self._idle: set[str] = set()
        self._tied = {name: tied for name, dial in hand.rule.dials().items() if (tied := getattr(dial, "tied", None))}
        whole = QVBoxLayout(self)
        whole.setContentsMargins(8, 4, 8, 6)
        whole.setSpacing(0)
        dials = hand.rule.dials()
        for name in (n for n, dial in dials.items() if dial.main):
            whole.addWidget(self._row(name))
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
        for name in (n for n, dial in dials.items() if not dial.main):
            inner.addWidget(self._row(name))
        self._linked = QVBoxLayout()
        inner.addLayout(self._linked)
        self._links: tuple[tuple[str, str], ...] = ()
        whole.addWidget(self.folded)
        self.refresh()
        self._unfold(unfolded)

    def _row(self, name: str) -> DialRow:
        row = row_for(self.hand, name)
        self.rows[name] = row
        row.wanted.connect(self.wanted)
        return row

    def refresh(self) -> None:
        """Show the rule as it is now; dials without effect are hidden, or dimmed where they are folded."""
        rule = self.hand.rule
        self._idle = rule.idle_dials()
        for name, row in self.rows.items():
            row.setVisible(name not in self._idle or (name in self._tied and self._stands_derived(name)))
            if not row.isHidden():
                row.refresh()
        self._show_links()
        self._show_more()

    def _stands_derived(self, name: str) -> bool:
        """Whether an idle number is shown as it follows from a choice: only from that, and not yet at the end of its row."""
        tied = self._tied[name]
        rule, dials = self.hand.rule, self.hand.rule.dials()
        if self.hand.derived(name) is None or name == getattr(dials[tied.field], "shows", ""):
            return False
        return all(getattr(rule, when.field) in when.values for when in dials[name].when if when.field != tied.field)

    def _shown_folded(self) -> list[str]:
        return [row.dial.label for name, row in self.rows.items() if not row.dial.main and name not in self._idle]

    def _show_more(self) -> None:
        names = self._shown_folded() + [words for _, words in self._links]
        self.more.setVisible(bool(names))
        mark = "▾" if self.more.isChecked() else "▸"
        listed = "" if self.more.isChecked() else "   " + ", ".join(names)
        text = f"{mark}  More ({len(names)}){listed}"
        self.more.setText(self.more.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, 250))
        self.more.setAccessibleName(f"More: {', '.join(names)}")

    def _show_links(self) -> None:
        """List what varies over this repeat though it stands in another card; it is the same dial shown twice."""
        found = []
        if self.hand.rule.family == "repeat":
            for other in self.hand.owner.own_rules:
                for name, dial in other.dials().items():
                    value = getattr(other, name)
                    if isinstance(value, Varied) and value.rule == self.hand.rule.id:
                        found.append((other.id, f"{other.shown_name()}: {dial.label}"))
        if tuple(found) == self._links:
            return
        self._links = tuple(found)
        emptied(self._linked)
        for rule_id, words in found:
            link = QPushButton(f"{words} varies over this")
            link.setObjectName("linkSaf")
            link.setCursor(Qt.CursorShape.PointingHandCursor)
            link.clicked.connect(lambda _=False, i=rule_id: self.wanted.emit(i))
            self._linked.addWidget(link)

    def _unfold(self, on: bool) -> None:
        self.folded.setVisible(on)
        self._show_more()
        self.grown.emit()
