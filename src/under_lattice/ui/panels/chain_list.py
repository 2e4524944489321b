"""The chain of the chosen layer: cards on a thread, and the place for one more."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt, Signal
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from under_lattice.rules.base import Rule
from under_lattice.ui.dials.colour_rows import ColourRow, PaletteRow
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.layer_row import LAYER
from under_lattice.ui.dials.outline_row import DRAWING, PAINTING
from under_lattice.ui.look.layouts import looks
from under_lattice.ui.look.thread import detour, draw_thread
from under_lattice.ui.look.tokens import CARD_LEFT, CARD_WIDTH, THREAD_X, colour, px
from under_lattice.ui.panels.add_slot import AddBetween, AddSlot
from under_lattice.ui.panels.card import FORMS, Bead, Card
from under_lattice.ui.state.desk import Desk
from under_lattice.work.layers import AnyLayer

GAP = 4
FIXED = ("motif", "end")  # families of rules that are always on


class ChainList(QScrollArea):
    """All cards of one chain."""

    drawing_wanted = Signal()
    painting_wanted = Signal()
    add_wanted = Signal(str)  # id of the rule above the place
    moved = Signal(str, int)
    switched = Signal(str)
    removed = Signal(str)
    menu_wanted = Signal(str, QPoint)
    motif_wanted = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self.document = desk, desk.document
        self.layer, self.unfolded = "", False
        self.cards: dict[str, Card] = {}
        self.beads: dict[str, Bead] = {}
        self.lines: dict[str, QWidget] = {}
        self._placed: object = None  # what the signs between cards were last placed by
        self.between: dict[str, AddBetween] = {}  # by the rule above
        self.order: tuple[str, ...] = ()
        self._kinds: tuple[str, ...] = ()
        self._drop_at: int | None = None
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.body = _Thread(self)
        self.body.setObjectName("scrolled")
        self.column = QVBoxLayout(self.body)
        self.column.setContentsMargins(0, 4, 0, 8)
        self.column.setSpacing(GAP)
        self.setWidget(self.body)
        self.slot = AddSlot()
        self.slot.clicked.connect(lambda: self.add_wanted.emit(self._slot_after()))
        desk.document.changed.connect(self.show_chain)
        desk.looked.layer_changed.connect(self.show_chain)
        desk.found.changed.connect(self.refresh)
        desk.looked.strip_changed.connect(self._show_stepped)
        desk.looked.picture_changed.connect(self._show_moment)
        self.show_chain()

    @property
    def open_rule(self) -> str:
        """Id of the open rule, or nothing."""
        return self.desk.looked.rule

    # -- building --------------------------------------------------------------------------------
    def show_chain(self) -> None:
        """Show the chain of the chosen layer; cards of rules that are there already stay."""
        layer, shown = self.desk.looked.layer, self.desk.looked.chosen
        if shown is None:
            return
        rules = shown.every_rule
        order, kinds = tuple([rule.id for rule in rules]), tuple([rule.kind for rule in rules])  # an exchanged motif keeps its id
        if layer != self.layer or order != self.order or kinds != self._kinds:
            before = set(zip(self.order, self._kinds, strict=True)) if layer == self.layer else set()
            stay = {name for name, _ in before.intersection(zip(order, kinds, strict=True))}
            self.layer, self.order, self._kinds = layer, order, kinds
            if self.open_rule not in order:
                self.desk.looked.rule = ""
            self._build(shown, stay)
        self.refresh()

    def _show_stepped(self) -> None:
        """Show which dials are on the test strip."""
        for card in self.cards.values():
            for row in card.form.rows.values() if card.form is not None else ():
                row.show_stepped()

    def _build(self, layer: AnyLayer, stay: set[str]) -> None:
        """Lay the cards of all rules, those that `stay` as they are; the rule whose head or bead had the focus keeps it."""
        focused = next((name for name, card in self.cards.items() if card.head.hasFocus() or self.beads[name].hasFocus()), "")
        self.slot.setParent(None)
        self._take_away([name for name in self.cards if name not in stay])
        while self.column.count():
            self.column.takeAt(0)
        for rule in layer.every_rule:
            if rule.id not in self.lines:
                self._line(rule)
                if rule.family != "end":
                    self._sign(rule)
            self.cards[rule.id].set_open(rule.id == self.open_rule, self.unfolded)
            self.column.addWidget(self.lines[rule.id])
        self.column.addStretch(1)
        self._place_slot()
        self._order_tabs()
        if focused in self.cards and focused not in stay:
            self.cards[focused].head.setFocus(Qt.FocusReason.OtherFocusReason)

    def _take_away(self, names: list[str]) -> None:
        """Let the cards of rules go."""
        for name in names:
            if (form := self.cards[name].form) is not None:
                form.make_no_more()
            for part in (self.lines.pop(name), self.between.pop(name, None)):
                if part is not None:
                    part.hide()
                    part.deleteLater()
            del self.cards[name], self.beads[name]

    def _order_tabs(self) -> None:
        """Let Tab go from top to bottom: bead, card, the dials of the open one, the sign below it."""
        parts: list[QWidget] = []
        for name in self.order:
            parts += [self.beads[name], self.cards[name].head, *([self.between[name]] if name in self.between else [])]
        for before, after in itertools.pairwise(parts):
            QWidget.setTabOrder(before, after)
        for card in self.cards.values():
            if card.form is not None:
                card.form.order_tabs_soon()

    def _sign(self, rule: Rule) -> None:
        name = rule.id
        sign = self.between[name] = AddBetween(rule.shown_name(), self.body)
        sign.clicked.connect(lambda: self.add_wanted.emit(name))
        self.cards[name].head.hovered.connect(sign.show_near)

    def place_signs(self) -> None:
        """Put the signs between the cards; where the place in words is, there is none."""
        after = self._slot_after()
        places = {
            name: self.lines[name].geometry().bottom() + 1 + GAP // 2 - sign.height() // 2 for name, sign in self.between.items()
        }
        if (placed := (after, places, tuple(self.lines.values()))) == self._placed:
            return
        self._placed = placed
        for name, sign in self.between.items():
            sign.setVisible(name != after)
            sign.move(THREAD_X - sign.width() // 2, places[name])
            sign.raise_()

    @property
    def made(self) -> bool:
        """Whether the open card has all its rows."""
        form = self.cards[self.open_rule].form if self.open_rule in self.cards else None
        return form is None or form.made

    def focus_form(self) -> None:
        """Put the focus on the first dial of the open rule."""
        card = self.cards.get(self.open_rule)
        if card is not None and card.form is not None:
            self.ensureWidgetVisible(card)
            card.form.take_focus()

    def open_colour(self, rule: str, dial: str, at: int) -> None:
        """Open the panel of one colour of a rule whose card is open."""
        form = self.cards[rule].form if rule in self.cards else None
        row = form.rows[dial] if form is not None and dial in form.dials else None
        if form is not None and isinstance(row, (ColourRow, PaletteRow)):
            form.show_row(dial)
            row.open_colour(at)

    def _line(self, rule: Rule) -> None:
        looked = self.desk.looked
        hand = Hand(
            self.document,
            self.layer,
            rule.id,
            self.desk.told.emit,
            self.desk.asked.emit,
            lambda: looked.stepped,
            lambda: looked.scale,
            self.desk.colour_wanted.emit,
            lambda: looked.recording,
        )
        card, bead = Card(hand), Bead(FORMS[rule.family], rule.family in FIXED)
        self.cards[rule.id], self.beads[rule.id] = card, bead
        line = QWidget()
        self.lines[rule.id] = line
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 8, 0)
        row.setSpacing(0)
        row.addWidget(bead, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(card)
        name = rule.id
        bead.clicked.connect(lambda: self.switched.emit(name))
        card.head.clicked.connect(lambda: self.open(name if self.open_rule != name else ""))
        card.wanted.connect(self._wanted)
        card.grown.connect(self._grown)
        card.head.menu_wanted.connect(lambda at: self.menu_wanted.emit(name, at))
        card.head.exchanged.connect(self.motif_wanted)
        card.head.exchanges = rule.family == "motif"
        card.head.removed.connect(lambda: self.removed.emit(name))
        if rule.family != "end":
            card.head.key_moved.connect(lambda way: self.moved.emit(name, self.order.index(name) + way))
            card.head.dragged.connect(lambda at: self._show_drop(name, at))
            card.head.dropped.connect(lambda at: self._drop(name, at))

    def _slot_after(self) -> str:
        if self.open_rule in self.order[:-1]:
            return self.open_rule
        return self.order[-2] if len(self.order) > 1 else ""

    def _place_slot(self) -> None:
        after = self._slot_after()
        self.column.removeWidget(self.slot)
        if after:  # a group has no rules of its own
            self.column.insertWidget(self.order.index(after) + 1, self.slot)
        self.slot.setVisible(bool(after))

    # -- showing ---------------------------------------------------------------------------------
    def open(self, rule: str) -> None:
        """Open one card and close the others; nothing closes all."""
        if rule == self.open_rule and rule:
            return
        for name in (self.open_rule, rule):
            if name in self.cards:
                if name == self.open_rule and self.cards[name].form is not None:
                    self.unfolded = False
                self.cards[name].set_open(name == rule, self.unfolded)
        self.desk.looked.rule = rule
        self._place_slot()
        self.refresh()

    def open_first_repeat(self) -> None:
        """Open the card of the first repeat, if there is one."""
        chosen = self.desk.looked.chosen
        self.open(next((rule.id for rule in chosen.own_rules if rule.family == "repeat"), "") if chosen is not None else "")

    def _wanted(self, name: str) -> None:
        if name == DRAWING:
            self.drawing_wanted.emit()
        elif name == PAINTING:
            self.painting_wanted.emit()
        elif name.startswith(LAYER):
            self.desk.looked.layer = name.removeprefix(LAYER)
        else:
            self.open(name)

    def _show_moment(self) -> None:
        if self.document.design.motions:
            self.refresh()

    def refresh(self) -> None:
        """Show the work as it is now, with what is known of it."""
        shown, found = self.desk.looked.chosen, self.desk.found
        if shown is None or self.layer != shown.id:
            return
        result = found.results.get(self.layer)
        counts = result.counts if result is not None else {}
        problems = {one.rule: one.sentence for one in result.problems} if result is not None else {}
        opened = self.open_rule
        now = self.document.seen_at(self.desk.looked.moment).tree.by_id[self.layer]
        for rule in now.every_rule:
            card, bead = self.cards[rule.id], self.beads[rule.id]
            card.hand.facts = found.facts
            card.refresh(rule, counts.get(rule.id), problems.get(rule.id, ""))
            bead.on, bead.big = rule.on, rule.id == opened
            fixed = rule.family in FIXED
            bead.setAccessibleName(f"{rule.shown_name()}: {'always on' if fixed else 'on' if rule.on else 'off'}")
            bead.setToolTip("" if fixed else "Switch off" if rule.on else "Switch on")
            looks(bead, bead.on, bead.big)
            last = found.layers.get(self.layer) if rule.family == "end" else found.steps.get(rule.id)  # the end shows the layer
            card.head.show_picture(last)
        self._grown()

    def _grown(self) -> None:
        """Shrink closed cards when they do not all fit."""
        for compact in (False, True):
            tall = sum([card.set_compact(compact) + GAP for card in self.cards.values()])
            if tall + self.slot.height() * (not self.slot.isHidden()) + 16 <= self.viewport().height():
                break
        for name, card in self.cards.items():
            self.beads[name].setFixedHeight(card.head.height() + 2)
        self.body.look_again()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        if self.cards:
            self._grown()

    # -- moving rules ----------------------------------------------------------------------------
    def _place_at(self, at: QPoint) -> int:
        """The place in the chain a rule would get if it were dropped here; after the motif, before the end."""
        y = self.body.mapFromGlobal(at).y()
        heads = [self.cards[name].head for name in self.order[:-1]]
        middles = [head.mapTo(self.body, head.rect().center()).y() for head in heads]
        return max(1, sum(middle < y for middle in middles))

    def _show_drop(self, name: str, at: QPoint) -> None:
        if self.order.index(name) > 0:
            self._drop_at = self._place_at(at)
            self.body.update()

    def _drop(self, name: str, at: QPoint) -> None:
        place, self._drop_at = self._place_at(at), None
        self.body.update()
        now = self.order.index(name)
        if now > 0:
            self.moved.emit(name, place - 1 if place > now else place)

    def drop_line(self) -> float | None:
        """Height of the line that shows where a dragged rule would go."""
        if self._drop_at is None:
            return None
        return self.lines[self.order[self._drop_at - 1]].geometry().bottom() + GAP / 2


class _Thread(QWidget):
    """Draws the thread behind the beads; it passes round those that are off."""

    def __init__(self, chain: ChainList) -> None:
        super().__init__()
        self.chain = chain

    def event(self, event: QEvent) -> bool:
        done = super().event(event)
        if event.type() in (QEvent.Type.LayoutRequest, QEvent.Type.Resize, QEvent.Type.Show):
            self.chain.place_signs()
            self.look_again()
        return done

    def look_again(self) -> None:
        """Be drawn anew if beads, or the gaps between cards through which the thread is seen, are no longer where they were."""
        chain = self.chain
        beads = [(bead.on, bead.mapTo(self, QPoint(0, 0)).y(), bead.height()) for bead in chain.beads.values()]
        looks(self, beads, [line.geometry().bottom() for line in chain.lines.values()], chain.open_rule, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        beads = [self.chain.beads[name] for name in self.chain.order if name in self.chain.beads]
        if not beads:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        path = QPainterPath(QPointF(THREAD_X, 0))
        for bead in beads:
            at = bead.mapTo(self, bead.centre().toPoint())
            if bead.on:
                path.lineTo(THREAD_X, at.y())
            else:
                detour(path, THREAD_X, at.y())
        draw_thread(painter, path)
        card = self.chain.cards.get(self.chain.open_rule)
        if card is not None:
            bead = self.chain.beads[self.chain.open_rule]
            at = bead.mapTo(self, bead.centre().toPoint())
            draw_thread(painter, _stub(at.y()))
        line = self.chain.drop_line()
        if line is not None:
            painter.setPen(QPen(colour("ver"), 3))
            painter.drawLine(QPointF(CARD_LEFT, line), QPointF(CARD_LEFT + px(CARD_WIDTH), line))
        painter.end()


def _stub(y: int) -> QPainterPath:
    path = QPainterPath(QPointF(THREAD_X, y))
    path.lineTo(CARD_LEFT, y)
    return path
