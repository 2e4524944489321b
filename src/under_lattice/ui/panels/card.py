"""A card of the chain: a rule with the picture after it, its key numbers, and its dials when open."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QEnterEvent,
    QFont,
    QFontMetrics,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QAbstractButton, QApplication, QFrame, QVBoxLayout

from under_lattice.rules.base import Rule
from under_lattice.ui.dials.curve import draw_curve
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.look.glyphs import draw_glyph
from under_lattice.ui.look.layouts import looks
from under_lattice.ui.look.numerals import as_written_here, capital
from under_lattice.ui.look.thread import chain_bead
from under_lattice.ui.look.tokens import CARD_WIDTH, colour, px
from under_lattice.ui.look.words import tip
from under_lattice.ui.panels.form import RuleForm
from under_lattice.vary.numbers import Varied
from under_lattice.vary.walk import ONE_COPY, Walk

FORMS = {
    "motif": "hexagon",
    "repeat": "round",
    "copies": "round",
    "shape": "square",
    "paint": "drop",
    "finish": "drop",
    "end": "weight",
    "unknown": "round",
}
CLOSED, OPEN, COMPACT = 48, 46, 28


class Bead(QAbstractButton):
    """Switches a rule on and off; Space does it from the keyboard."""

    def __init__(self, form: str, fixed: bool) -> None:
        super().__init__()
        self.form, self.fixed, self.on, self.big = form, fixed, True, False
        self.setFixedSize(32, px(CLOSED))
        if fixed:
            self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        else:
            self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(32, self.height())

    def centre(self) -> QPointF:
        """Where the bead sits in its widget; off beads stand aside, the thread passes round them."""
        return QPointF(16, self.height() / 2)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chain_bead(painter, self.form, self.centre(), self.on, self.hasFocus(), self.big)
        painter.end()


class CardHead(QAbstractButton):
    """Picture, name and key line; a press opens the card, a drag moves the rule."""

    dragged = Signal(QPoint)
    dropped = Signal(QPoint)
    menu_wanted = Signal(QPoint)
    key_moved = Signal(int)
    removed = Signal()
    hovered = Signal(bool)
    exchanged = Signal()  # another motif is wanted

    def __init__(self) -> None:
        super().__init__()
        self.title, self.line, self.varied = "", "", None  # type: tuple[str, str, Varied | None]
        self.walk = ONE_COPY  # over the copies it varies by
        self.picture: QImage | None = None
        self.off = self.opened = self.compact = self.warned = self.line_varies = False
        self.exchanges = False  # a press on its picture asks for another motif
        self._pressed_at: QPoint | None = None
        self._dragging = False
        self.setFixedHeight(px(CLOSED))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setMouseTracking(True)

    def sizeHint(self) -> QSize:
        return QSize(px(CARD_WIDTH), self.height())

    def _picture_box(self) -> QRectF:
        side = px(20 if self.compact else 40)
        return QRectF(4, (self.height() - side) / 2, side, side)

    def _more_box(self) -> QRect:
        return QRect(self.width() - 32, (self.height() - 24) // 2, 28, 24)

    def show_picture(self, picture: QImage | None) -> None:
        """Show the picture after this step; the one before stays until there is another."""
        if picture is not None and picture is not self.picture:
            self.picture = picture
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        if self.underMouse() and not self.opened:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour("hover"))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3, 3)
        box = self._picture_box()
        self._paint_picture(painter, box)
        left = int(box.right()) + 8
        curve_room = 52 if self.varied is not None and not self.opened else 0
        more_room = 34 if self.opened or self.underMouse() else 0
        room = self.width() - left - 6 - max(curve_room, more_room)
        self._paint_words(painter, left, room)
        if curve_room and not more_room and self.varied is not None:
            draw_curve(painter, self.varied, QRectF(self.width() - 52, (self.height() - 20) / 2, 44, 20), self.walk)
        if more_room:
            draw_glyph(painter, "more", QPointF(self._more_box().center()), colour("text2"))
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(2, 2, -2, -2), 3, 3)
        painter.end()

    def _paint_picture(self, painter: QPainter, box: QRectF) -> None:
        painter.setOpacity(0.45 if self.off else 1.0)
        painter.fillRect(box, colour("field"))
        if self.picture is not None:
            painter.drawImage(box, self.picture)
        painter.setOpacity(1.0)
        painter.setPen(QPen(colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))

    def _paint_words(self, painter: QPainter, left: int, room: int) -> None:
        bold = QFont(self.font())
        bold.setBold(True)
        small = QFont(self.font())
        small.setPixelSize(max(12, round(QFontMetrics(self.font()).height() * 0.68)))
        painter.setFont(bold)
        painter.setPen(colour("dis" if self.off else "text"))
        title = QFontMetrics(bold).elidedText(self.title, Qt.TextElideMode.ElideRight, room)
        middle = Qt.AlignmentFlag.AlignVCenter
        if self.compact:
            painter.drawText(QRect(left, 0, room, self.height()), middle, title)
            used = QFontMetrics(bold).horizontalAdvance(title) + 10
            left, room, top, tall = left + used, room - used, 0, self.height()
        else:
            painter.drawText(QRect(left, px(5), room, px(20)), middle, title)
            top, tall = px(24), px(18)
        painter.setFont(small)
        ink = "dis" if self.off else "saf" if self.line_varies else "text2"
        if self.warned:
            ink = "err"
        painter.setPen(colour(ink))
        painter.drawText(
            QRect(left, top, room, tall), middle, QFontMetrics(small).elidedText(self.line, Qt.TextElideMode.ElideRight, room)
        )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._more_box().contains(event.position().toPoint()):
            self.menu_wanted.emit(self.mapToGlobal(self._more_box().bottomLeft()))
            return
        if event.button() == Qt.MouseButton.LeftButton and self.exchanges and self._picture_box().contains(event.position()):
            self.exchanged.emit()
            return
        self._pressed_at = event.position().toPoint()
        self._dragging = False
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed_at is not None and event.buttons() & Qt.MouseButton.LeftButton:
            far = (event.position().toPoint() - self._pressed_at).manhattanLength()
            if self._dragging or far > QApplication.startDragDistance():
                self._dragging = True
                self.dragged.emit(event.globalPosition().toPoint())
                return
        self.update()
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._pressed_at = None
        if self._dragging:
            self._dragging = False
            self.setDown(False)
            self.dropped.emit(event.globalPosition().toPoint())
            return
        super().mouseReleaseEvent(event)

    def enterEvent(self, event: QEnterEvent) -> None:
        self.hovered.emit(True)
        super().enterEvent(event)

    def leaveEvent(self, event: object) -> None:
        self.hovered.emit(False)
        self.update()
        super().leaveEvent(event)  # type: ignore[arg-type]

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        held = event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and held:
            self.key_moved.emit(-1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Delete:
            self.removed.emit()
        elif event.key() == Qt.Key.Key_Menu:
            self.menu_wanted.emit(self.mapToGlobal(self._more_box().bottomLeft()))
        else:
            super().keyPressEvent(event)


class Card(QFrame):
    """Head and, when open, the form."""

    wanted = Signal(str)
    grown = Signal()

    def __init__(self, hand: Hand) -> None:
        super().__init__()
        self.hand = hand
        self.head = CardHead()
        self.head.setAccessibleDescription("closed")
        self.form: RuleForm | None = None
        self._shown: tuple[Any, ...] | None = None
        self._heights = px(OPEN), px(COMPACT - 2), px(CLOSED - 2)
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        self._layout.addWidget(self.head)
        self.setFixedWidth(px(CARD_WIDTH))
        self.setObjectName("card")

    def set_open(self, on: bool, unfolded: bool) -> None:
        """Open or close the card."""
        if on == (self.form is not None):
            return
        if self.form is not None:
            self.form.hide()
            self._layout.removeWidget(self.form)
            self.form.deleteLater()
            self.form = None
        self.head.opened = on
        self.head.setAccessibleDescription("open" if on else "closed")
        self.setObjectName("cardOpen" if on else "card")
        self.style().unpolish(self)  # without its form, whose parts would all be dressed anew
        self.style().polish(self)
        if on:
            self.form = RuleForm(self.hand, unfolded)
            self.form.follows = self.head
            self.form.wanted.connect(self.wanted)
            self.form.grown.connect(self.grown)
            self._layout.addWidget(self.form)

    def refresh(self, rule: Rule, count: int | None, problem: str) -> None:
        """Show the rule as it is now; a closed card of a rule that is the same is left as it is."""
        head, owner = self.head, self.hand.owner
        motif = owner.own_rules[0] if rule.family == "paint" else None  # which may leave it no say
        over = id(self._walk()) if head.varied is not None else 0
        shown = (rule, count, problem, owner.name, self.hand.sheet.unit, motif, over)
        if self.form is not None:
            self.form.refresh()
        elif self._shown is not None and self._shown[0] is rule and self._shown[1:] == shown[1:]:
            return
        self._shown = shown
        noun = owner.noun.capitalize()
        called = owner.name if owner.name.startswith(noun) else f"{noun} {owner.name}"
        head.title = called if rule.family == "end" and not rule.name else rule.shown_name()
        line = rule.key_line(self.hand.sheet.unit)
        if motif is not None and "" in rule.without_effect(motif):
            line = "has no say: the motif keeps its own colours"
        if count is not None and rule.family == "repeat":
            line = f"{count:,} in all, {line}".replace(",", "\u202f", 1) if count >= 1000 else f"{count} in all, {line}"
        head.off = not rule.on
        head.warned = bool(problem) and rule.on
        head.line = f"off: {line}" if not rule.on else (capital(problem) or line)
        head.varied = next((getattr(rule, n) for n in rule.dials() if isinstance(getattr(rule, n), Varied)), None)
        head.walk = self._walk()
        head.line_varies = head.varied is not None and "→" in line
        head.line = as_written_here(head.line)
        head.setAccessibleName(f"{head.title}: {head.line}")
        head.setToolTip(tip(problem or ("A press on the picture changes the motif" if head.exchanges else "")))
        looks(head, head.title, head.line, head.off, head.warned, head.varied, id(head.walk), head.line_varies)

    def _walk(self) -> Walk:
        """The copies that the number in the head varies over, as they were last measured."""
        varied = self.head.varied
        return self.hand.facts.walks.get(varied.rule, ONE_COPY) if varied is not None else ONE_COPY

    def set_compact(self, on: bool) -> int:
        """Shrink a closed head; returns the card's height."""
        self.head.compact = on and self.form is None
        opened, compact, closed = self._heights
        self.head.setFixedHeight(opened if self.form is not None else compact if on else closed)
        return self.sizeHint().height()
