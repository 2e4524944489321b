"""F1: finds commands, rules, motifs, dials and works by everyday words, as a line on the thread with what it finds hung below."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QModelIndex, QObject, QPersistentModelIndex, QPointF, QRect, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QFocusEvent, QFont, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QFrame,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from under_lattice.ui.dialogs.everyday import meanings
from under_lattice.ui.look.thread import draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import CARD_LEFT, CHAIN_WIDTH, STRIP_HEIGHT, THREAD_X, colour, px
from under_lattice.ui.look.words import Words

SEEN, BESIDE = 10, 6  # lines at once, and below what is shown of a dial; more are scrolled
LINE = 44  # px
HERE = "here"  # the hint of what can be done with what has the focus
STAYS = (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason, Qt.FocusReason.MenuBarFocusReason)


@dataclass(frozen=True)
class Entry:
    """Something that can be found: its words, more words that find it, a hint, and what it does."""

    words: str
    search: str
    hint: str
    act: Callable[[], None]


def found(entries: list[Entry], text: str) -> list[Entry]:
    """Return the entries in which every typed word, or what it means here, begins some word.

    Names come before other words, and first those that begin as is typed or belong to the dial in use.
    """
    typed = [meanings(word) for word in text.lower().replace(":", " ").split()]
    if not typed:
        return [entry for entry in entries if entry.hint == HERE]  # a line to type in, not a list of everything
    ranked = []
    for entry in entries:
        own, more = entry.words.lower().replace(":", " ").split(), entry.search.lower().split()
        ranks = [_rank(ways, own, more) for ways in typed]
        if None not in ranks:
            name = entry.words.lower().removeprefix("add ").removeprefix("open ")
            begins = entry.hint == HERE or name.startswith(text.lower().strip())
            ranked.append(((sum(rank for rank in ranks if rank is not None), not begins), entry))
    return [entry for _, entry in sorted(ranked, key=lambda pair: pair[0])]


def _rank(ways: tuple[str, ...], own: list[str], more: list[str]) -> int | None:
    """How far a typed word is from an entry: 0 in its name, more in other words or by what it means; None when it is not there."""
    for far, way in enumerate(ways):
        if any(word.startswith(way) for word in own):
            return 2 * far
        if any(word.startswith(way) for word in more):
            return 2 * far + 1
    return None


class _Hung(QStyledItemDelegate):
    """Draws what was found as a bead on the thread with its words."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(100, LINE)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        entry: Entry = index.data(Qt.ItemDataRole.UserRole)
        box: QRect = option.rect
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = box.center().y() + 0.5
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour("tint"))
            painter.drawRoundedRect(QRectF(CARD_LEFT - 4, box.top() + 2, box.width() - CARD_LEFT, box.height() - 4), 4, 4)
        draw_thread(painter, straight(THREAD_X, box.top(), THREAD_X, box.bottom() + 1))
        round_bead(painter, QPointF(THREAD_X, middle), 5, chosen, None, colour("panel"))
        left, wide = CARD_LEFT + 4, box.width() - CARD_LEFT - 12
        bold = QFont(painter.font())
        bold.setBold(True)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        flags = int(Qt.AlignmentFlag.AlignVCenter)
        words = painter.fontMetrics().elidedText(entry.words, Qt.TextElideMode.ElideRight, wide)
        painter.drawText(QRect(left, box.top() + 4, wide, 18), flags, words)
        bold.setBold(False)
        painter.setFont(bold)
        painter.setPen(colour("text2"))
        painter.drawText(QRect(left, box.top() + 22, wide, 18), flags, entry.hint)
        painter.restore()


class CommandSearch(QFrame):
    """A line on the thread and what it finds, over the column of the chain; Enter does it, Escape or going elsewhere closes it.

    Parameters
    ----------
    entries : list of Entry
    parent : QWidget
        The window.
    shown : QWidget, optional
        What stands below the line as long as nothing is typed.
    """

    def __init__(self, entries: list[Entry], parent: QWidget, shown: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("popup")
        self.setAccessibleName("Find")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.entries, self.before = entries, parent.focusWidget()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 12, 4, 8)
        column.setSpacing(6)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find: any word, such as rotate")
        self.field.setAccessibleName("Find")
        self.field.textChanged.connect(self._find)
        self.field.installEventFilter(self)
        inset = QVBoxLayout()
        inset.setContentsMargins(CARD_LEFT, 0, 8, 0)
        inset.addWidget(self.field)
        self.nothing = Words("Nothing is called that. Try another word.")
        self.nothing.setObjectName("small")
        inset.addWidget(self.nothing)
        column.addLayout(inset)
        self.shown = shown
        if shown is not None:
            column.addWidget(shown)
        self.list = QListWidget()
        self.list.setAccessibleName("Found")
        self.list.setFrameShape(QFrame.Shape.NoFrame)
        self.list.setItemDelegate(_Hung(self.list))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setStyleSheet("background: transparent; padding: 0; border: none")
        self.list.itemClicked.connect(self._do)
        column.addWidget(self.list)
        self._find("")

    def open(self) -> None:
        """Show it where the chain hangs, with the focus in its line."""
        window = self.parentWidget()
        assert window is not None
        self.move(0, px(STRIP_HEIGHT))
        self.show()
        self.raise_()
        self.field.setFocus(Qt.FocusReason.OtherFocusReason)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        at = self.field.geometry().center().y() + 0.5
        bottom = self.list.geometry().top() if self.list.count() else at
        draw_thread(painter, straight(THREAD_X, at, THREAD_X, bottom))
        draw_thread(painter, straight(THREAD_X, at, CARD_LEFT, at))
        round_bead(painter, QPointF(THREAD_X, at), 7, True)
        painter.end()

    def _find(self, text: str) -> None:
        self.list.clear()
        for entry in found(self.entries, text):
            item = QListWidgetItem(entry.words)
            item.setData(Qt.ItemDataRole.UserRole, entry)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{entry.words}, {entry.hint}" if entry.hint else entry.words)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        if self.shown is not None:
            self.shown.setVisible(not text.strip())
        count = self.list.count()
        self.nothing.setVisible(count == 0 and bool(text.strip()))
        self.list.setVisible(count > 0)
        beside = self.shown is not None and not text.strip()
        self.list.setFixedHeight(LINE * min(count, BESIDE if beside else SEEN))
        self.setFixedWidth(px(CHAIN_WIDTH) + 40)
        self.adjustSize()
        self.update()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusOut and event.reason() not in STAYS:
            self.close()
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_PageDown: SEEN - 1, Qt.Key.Key_PageUp: 1 - SEEN}
            step = steps.get(Qt.Key(event.key()))
            if step is not None and self.list.count():
                at = self.list.currentRow() + step
                self.list.setCurrentRow(at % self.list.count() if abs(step) == 1 else min(max(at, 0), self.list.count() - 1))
                return True
            if event.key() == Qt.Key.Key_Escape:
                self._go_back()
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                item = self.list.currentItem()
                if item is not None:
                    self._do(item)
                return True
        return super().eventFilter(watched, event)

    def _go_back(self) -> None:
        """Close, and give the focus back to where it was."""
        before = self.before
        self.close()
        if before is not None:
            before.setFocus(Qt.FocusReason.OtherFocusReason)

    def _do(self, item: QListWidgetItem) -> None:
        entry: Entry = item.data(Qt.ItemDataRole.UserRole)
        window = self.parentWidget()
        assert window is not None
        self._go_back()
        QTimer.singleShot(0, window, entry.act)  # once the window has its focus back
