"""The page where a work is made: chain column, sheet and facts around one document."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from PySide6.QtCore import QPoint, Qt, QTimer, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from under_lattice.evaluate.result import ChainResult
from under_lattice.explore.words import pair
from under_lattice.measure.facts import Facts
from under_lattice.picking.picker import Level, Picked
from under_lattice.rules.base import Rule
from under_lattice.rules.findings import Cure, Warn
from under_lattice.rules.shared.touches import Place
from under_lattice.ui.look.tokens import CHAIN_WIDTH, TRAY_WIDTH, px
from under_lattice.ui.loop.neighbours import Neighbours
from under_lattice.ui.loop.player import Player
from under_lattice.ui.panels.back_bar import BackBar
from under_lattice.ui.panels.chain_list import ChainList
from under_lattice.ui.panels.chips import LayerChips
from under_lattice.ui.panels.facts_line import FactsLine
from under_lattice.ui.panels.layer_tree import LayerTree
from under_lattice.ui.panels.named_panel import NamedPanel
from under_lattice.ui.sheet.sheet_view import SheetView
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.state.document import Document
from under_lattice.ui.window.handling import Handling
from under_lattice.ui.window.made_late import MadeLate
from under_lattice.ui.workers.engine import NUMBERS, Answer, Engine, Request, Thumbs
from under_lattice.ui.workers.in_turn import InTurn
from under_lattice.work.edits import add_rule
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design, Kept
from under_lattice.work.several import shown_alone
from under_lattice.work.turning import turned_together

Panel = TypeVar("Panel", bound=QWidget)
# of the column at the left, from top to bottom; each is given the desk
PANELS: tuple[type[Any], ...] = (LayerChips, LayerTree, BackBar, NamedPanel, ChainList)
BUSY_AFTER_MS = 150
MEASURING_AFTER_MS = 400  # then facts of the work before are taken away
SHEET_LEAST = 380  # px across, before the tray gives way
WARMING = "plain picture; the painter is being made ready, once: {:.0%}"


class Studio(MadeLate):
    """Shows the document's design, asks the engine for pictures, and turns what is done here into edits."""

    rule_menu = Signal(str, QPoint)
    layer_menu = Signal(str, QPoint)
    add_rule = Signal(str)
    add_layer = Signal(QPoint)
    bring_wanted = Signal()
    sheet_wanted = Signal()
    painted = Signal()

    def __init__(self, document: Document, engine: Engine) -> None:
        super().__init__()
        self.document, self.engine = document, engine
        self.desk = Desk(document)
        self.looked, self.found = self.desk.looked, self.desk.found
        self.asked = self._first = next(NUMBERS)  # number of the last picture that was asked for
        self.shown = self._measured = -1  # of the one that is seen, and of the one whose facts are
        self._measured_of: Request | None = None
        self._problem, self._plain = "", False
        self._picked: Picked | None = None
        self._level = -1
        self._shown_alone: tuple[Design, str, Design] | None = None
        self.later = InTurn(self, lambda: self.chain.made)
        self.sheet, self.facts_line = SheetView(), FactsLine()
        self.handling = Handling(self.desk, self.sheet)
        self.panels = [panel(self.desk) for panel in PANELS]
        self.player = Player(self.desk, self.sheet, self._alone)
        self.neighbours = Neighbours(self.desk, self.sheet)
        self.compared: Kept | None = None
        self.chips, self.chain = self._panel(LayerChips), self._panel(ChainList)
        self.tree = self._panel(LayerTree)
        self._lay_out()
        self._busy = QTimer(self, singleShot=True, interval=BUSY_AFTER_MS)
        self._busy.timeout.connect(lambda: self.facts_line.show_working("drawing…"))
        self._measuring = QTimer(self, singleShot=True, interval=MEASURING_AFTER_MS)
        self._measuring.timeout.connect(self.facts_line.show_measuring)
        self._connect()
        self.later.add(self._look_for_motions)
        self._changed()

    def _panel(self, kind: type[Panel]) -> Panel:
        return next(panel for panel in self.panels if isinstance(panel, kind))

    def _lay_out(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = QWidget()
        left.setObjectName("chain")
        left.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        left.setFixedWidth(px(CHAIN_WIDTH))
        self.column, self._tray_wanted = left, True
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for panel in self.panels:
            column.addWidget(panel, int(panel is self.chain))
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self.sheet, 1)
        right.addWidget(self.facts_line)
        self.beside = right
        row.addWidget(left)
        row.addLayout(right, 1)
        self._tray_column = QWidget()
        self._tray_column.setFixedWidth(px(TRAY_WIDTH))
        self.tray_room = QHBoxLayout(self._tray_column)
        self.tray_room.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self._tray_column)

    def _look_for_motions(self) -> None:
        if not self.has("string") and (self.document.design.motions or self.looked.string):
            self.string.refresh()

    def _connect(self) -> None:
        self.document.changed.connect(self._look_for_motions)
        self.looked.loop_changed.connect(self._look_for_motions)
        self.document.changed.connect(self._changed)
        self.looked.layer_changed.connect(self._ask)
        self.looked.picture_changed.connect(self._ask)
        self.looked.overlay_changed.connect(self._show_overlay)
        self.desk.told.connect(self.facts_line.tell)
        queued = Qt.ConnectionType.QueuedConnection
        self.engine.painted.connect(self._show_answer, queued)
        self.engine.beside.connect(self.sheet.compare.show_picture)
        self.engine.thumbs.connect(self._show_thumbs, queued)
        self.engine.warming.connect(self._show_warming, queued)
        self.engine.working.connect(self._show_working, queued)
        self.engine.picked.connect(self._show_picked, queued)
        self.sheet.pointed.connect(self.engine.pick)
        self.sheet.pressed.connect(self._wider)
        self.sheet.view_changed.connect(self._view_changed)
        self.chain.drawing_wanted.connect(self.handling.begin_drawing)
        self.chain.painting_wanted.connect(self.handling.begin_painting)
        for panel in (self.chips, self.tree):
            panel.add_wanted.connect(self.add_layer)
            panel.menu_wanted.connect(self.layer_menu)
        self.chain.add_wanted.connect(self.add_rule)
        self.chain.menu_wanted.connect(self.rule_menu)
        self.sheet.tapped.connect(lambda: self.string.toggle() if self.document.design.motions else None)
        self.player.told.connect(self.facts_line.show_time)
        self.player.ended.connect(self._ask)
        self.facts_line.stopped.connect(self.engine.give_up)
        self.facts_line.cured.connect(self._cure)
        self.facts_line.shown_where.connect(self._show_where)
        self.facts_line.sheet_wanted.connect(self.sheet_wanted)
        self.facts_line.spoken.connect(self.sheet.setAccessibleDescription)

    # -- showing ---------------------------------------------------------------------------------
    def choose_layer(self, layer: str) -> None:
        """Show the chain of a layer."""
        self.looked.layer = layer

    @property
    def layer(self) -> str:
        """Id of the chosen layer, or nothing."""
        return self.looked.layer

    @property
    def chosen(self) -> AnyLayer | None:
        """The chosen layer, a chain or another."""
        return self.looked.chosen

    @property
    def facts(self) -> Facts:
        """What was last measured."""
        return self.found.facts

    @property
    def results(self) -> dict[str, ChainResult]:
        """The chains as they were last evaluated, by the ids of their layers."""
        return self.found.results

    def _changed(self) -> None:
        self.sheet.show_sheet(self.document.design.sheet)
        self._ask()

    def _show_overlay(self) -> None:
        self.sheet.show_handles, self.sheet.show_grid = self.looked.handles, self.looked.grid
        self.sheet.update()
        if self.looked.repeat and not self.has("repeat_bar"):
            self.repeat_bar.switched()

    def _view_changed(self) -> None:
        self.looked.scale = self.sheet.scale
        self.facts_line.show_zoom(self.sheet.zoom_words())
        self._ask()

    def _ask(self) -> None:
        if self.sheet.width() < 2 or not self.isVisible():
            return
        if self.player.playing:
            self.player.renew()
            return
        self.asked = next(NUMBERS)
        self._busy.start()
        instead, view = self.looked.instead, self.sheet.wanted_view()
        design = instead.design if instead is not None else self._alone(self.document.design)
        self.sheet.show_instead(instead.words if instead is not None else "", design.sheet)
        self.engine.ask(
            Request(
                self.asked,
                design,
                view,
                self.layer,
                self.looked.bones,
                self.looked.time,
                aside=instead is not None,
                mask_of=self.layer if self.looked.masks else "",
            )
        )

        self.ask_beside()

    def _alone(self, design: Design) -> Design:
        """The work, or all of it hidden but the layer that is shown alone; the same object for the same work."""
        name = self.looked.alone
        if not name:
            return design
        if self._shown_alone is None or self._shown_alone[0] is not design or self._shown_alone[1] != name:
            self._shown_alone = design, name, shown_alone(design, name)
        return self._shown_alone[2]

    def ask_beside(self) -> None:
        """Ask for what the work is compared with, in the same view."""
        if self.compared is not None and self.sheet.compare.on:
            self.engine.ask_beside(self.compared.design, self.sheet.wanted_view(), self.looked.time)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._make_room()

    def want_tray(self, wanted: bool) -> None:
        """Show the tray, or put it away; where the sheet would be too narrow it waits for a wider window."""
        self._tray_wanted = wanted
        self._make_room()

    def _make_room(self) -> None:
        left = 0 if self.column.isHidden() else self.column.width()
        self._tray_column.setVisible(self._tray_wanted and self.width() - left - px(TRAY_WIDTH) >= SHEET_LEAST)

    def show_column(self, shown: bool) -> None:
        """Show the column of the chain, or put it away."""
        self.column.setVisible(shown)
        self._make_room()

    def showEvent(self, event: Any) -> None:
        super().showEvent(event)
        self._view_changed()
        self.later.add(lambda: self.tray)  # the sheet comes first

    @property
    def drawn(self) -> bool:
        """Whether the picture shows the present design."""
        return self.shown >= self.asked

    @property
    def settled(self) -> bool:
        """Whether the picture shows the present design, the open card all its rows, and all that comes later is there."""
        return self.drawn and self.chain.made and self.later.ended

    def _show_answer(self, answer: Answer) -> None:
        if answer.request.number < max(self.shown, self._first):
            return
        self.shown = answer.request.number
        self._plain = answer.plain
        self._problem = answer.problem or "; ".join(answer.notes)
        if answer.problem:
            self.facts_line.show_facts(self.facts, self.document.design.sheet, self._problem)
        else:
            self.sheet.show_picture(answer.picture, answer.request.view)
        if not answer.problem and not answer.request.aside:
            self.found.results = answer.results
            if not self._is_measured(answer.request):
                self._measuring.start()
        if self.drawn:
            self._busy.stop()
            ready = f"{max(1, round(answer.seconds * 1000))} ms"
            self.facts_line.show_time(WARMING.format(0) if answer.plain else ready)
        self.handling.show()
        self.painted.emit()

    def _is_measured(self, request: Request) -> bool:
        """Whether the facts are of what is asked for; it may be seen otherwise."""
        known = self._measured_of
        if known is None or known.design is not request.design:
            return False
        return (known.layer, known.time) == (request.layer, request.time)

    def _show_warming(self, share: float) -> None:
        if self._plain:
            self.facts_line.show_time(WARMING.format(share))

    def _show_working(self, name: str, share: float) -> None:
        if not self.drawn:
            self._busy.stop()
            self.facts_line.show_working(f"{name} {share:.0%}")

    def _show_thumbs(self, thumbs: Thumbs) -> None:
        if thumbs.request.number < max(self._measured, self._first) or thumbs.request.layer != self.layer:
            return
        self._measured = thumbs.request.number
        self._measured_of = thumbs.request
        self._measuring.stop()
        self.found.take(thumbs.facts, thumbs.steps, thumbs.layers)
        self.facts_line.show_facts(thumbs.facts, self.document.design.sheet, self._problem)

    def refresh_theme(self) -> None:
        """Draw anew what carries the colours of the theme."""
        for panel in self.panels:
            panel.refresh()
        self._changed()

    # -- what is under the pointer ----------------------------------------------------------------
    def _show_picked(self, picked: Picked | None) -> None:
        same = (
            picked is not None
            and self._picked is not None
            and (picked.layer, picked.mark) == (self._picked.layer, self._picked.mark)
        )
        if not same:
            self._level = -1
        self._picked = picked
        shown = self.sheet.underMouse() and not self.handling.dragging
        self.sheet.show_under(
            picked.levels[max(0, min(self._level, len(picked.levels) - 1))] if picked is not None and shown else None
        )

    def _wider(self) -> None:
        """Pick the face, with the next press the wider copy it belongs to; its path stands in the facts."""
        if self._picked is None:
            return
        self._level = (self._level + 1) % len(self._picked.levels)
        level = self._picked.levels[self._level]
        self.facts_line.tell(level.words)
        self.sheet.show_under(level)

    def under_pointer(self) -> tuple[str, tuple[Place, ...]] | None:
        """The layer of what was last picked, and its places in the repeats, as wide as it is shown."""
        if self._picked is None:
            return None
        return self._picked.layer, self._picked.levels[max(0, min(self._level, len(self._picked.levels) - 1))].at

    def colour_under_pointer(self) -> str:
        """The colour of what was last picked, or nothing."""
        return self._picked.colour if self._picked is not None else ""

    # -- facts -----------------------------------------------------------------------------------
    def _cure(self, cure: Cure) -> None:
        unit = self.document.design.sheet.unit
        if isinstance(cure.value, Rule):
            if self.edit(cure.words, lambda design: add_rule(design, self.layer, cure.value, cure.rule)):
                self.facts_line.tell(f"{cure.value.shown_name()} was added: {cure.value.key_line(unit)}")
            return
        rule = self.document.design.layer(self.layer).rule(cure.rule)
        dial = rule.dials()[cure.dial]
        changes = {cure.dial: cure.value, **cure.also}
        if self.edit(cure.words, lambda design: turned_together(design, self.layer, cure.rule, changes)):
            was, now = pair(getattr(rule, cure.dial), cure.value, dial, unit)
            self.facts_line.tell(f"{rule.shown_name()}, {dial.label.lower()}: {was} → {now}")

    def _show_where(self, warn: Warn | None) -> None:
        """Open the rule a warning is about, and outline on the sheet what it means until the pointer moves there."""
        if warn is None:
            return
        if warn.rule in self.chain.cards:
            self.chain.open(warn.rule)
            self.chain.ensureWidgetVisible(self.chain.cards[warn.rule])
        if warn.rings:
            self.sheet.show_under(Level(warn.sentence, warn.rings))

    def edit(self, words: str, change: Callable[[Design], Design]) -> bool:
        """Make one edit; a refusal is said in the facts."""
        return self.desk.edit(words, change)
