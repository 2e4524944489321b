"""The dials that a work shares: each with its slider and number, and what follows it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QHBoxLayout, QInputDialog, QLineEdit, QPushButton, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Angle, Count, Length, NumberDial, Ratio, Seed
from under_lattice.loop.moment import at_moment, motion_at
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.parts import ThreadSlider
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, on_button, tip
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.state.document import Document
from under_lattice.vary.motion import Place
from under_lattice.work.address import Address
from under_lattice.work.model import Design, NamedDial
from under_lattice.work.named import followers, remove_named, rename_named, set_named

KINDS: dict[str, NumberDial] = {
    "length": Length("", "A length that dials share.", least=-1e6),
    "angle": Angle("", "An angle that dials share."),
    "ratio": Ratio("", "A ratio that dials share.", most=10000.0, slides=(0.0, 200.0)),
    "count": Count("", "A number that dials share.", least=-1e6, most=1e6),
    "seed": Seed("", "A seed that dials share."),
}


class NamedPanel(QWidget):
    """Stands above the chain while the work has named dials."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        document = self.document = desk.document
        self.ask = desk.asked.emit
        self.rows: dict[str, NamedRow] = {}
        self.setObjectName("named")
        self.setAccessibleName("Named dials")
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 2, 8, 4)
        self.column.setSpacing(0)
        document.changed.connect(self.refresh)
        desk.looked.picture_changed.connect(self._show_moment)
        self.refresh()

    def _show_moment(self) -> None:
        if self.document.design.motions:
            self.refresh()

    def refresh(self) -> None:
        """Show the named dials of the work as it is now."""
        dials = self.document.design.dials
        if tuple(self.rows) != tuple(one.id for one in dials):
            emptied(self.column)
            self.rows = {one.id: NamedRow(self.document, one, self.ask) for one in dials}
            if dials:
                title = Words("Named dials")
                title.setObjectName("small")
                self.column.addWidget(title)
            for row in self.rows.values():
                self.column.addWidget(row)
        for one in at_moment(self.document.design, self.document.moment()).dials:
            self.rows[one.id].show_dial(one, self.document.design)
        self.setVisible(bool(dials))


MOVES = (("Move this: hang values", "hung"), ("Move this: swing", "swing"))


class NamedRow(QWidget):
    """One named dial."""

    def __init__(self, document: Document, one: NamedDial, ask: Callable[[str, Address], None]) -> None:
        super().__init__()
        self.document, self.id, self.ask = document, one.id, ask
        self._visit: object | None = None
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        line = QHBoxLayout()
        line.setSpacing(4)
        whole.addLayout(line)
        self.name = QPushButton("")
        self.name.setObjectName("plain")
        self.name.setFixedWidth(px(92))
        self.name.setStyleSheet("text-align: left;")
        self.name.clicked.connect(self.open_menu)
        dial = KINDS[one.measure]
        self.slider = ThreadSlider(*dial.slides, one.name)
        self.slider.begun.connect(self._begin)
        self.slider.moved.connect(lambda value: self._turn(round(value / dial.step) * dial.step))
        self.slider.ended.connect(self._end)
        sheet = document.design.sheet
        self.field = NumberField(dial, dial.unit or (sheet.unit if one.measure == "length" else ""), sheet.resolution, one.name)
        self.field.keep_whole(px(80))
        self.field.entered.connect(self._turn)
        self.field.refused.connect(self._refuse)
        self.field.abandoned.connect(lambda: self.document.give_up(self._visit))
        self.field.left.connect(self._end)
        self.field.nudged.connect(self.field.step_seen)
        for part, stretch in ((self.name, 0), (self.slider, 1), (self.field, 0)):
            line.addWidget(part, stretch)
        self.error = Words("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        self.error.hide()
        whole.addWidget(self.error)

    def show_dial(self, one: NamedDial, design: Design) -> None:
        """Show its name and value."""
        self.name.setText(on_button(self.name.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, 84)))
        follow = followers(design, one.id)
        said = "; ".join(follow) if follow else "nothing follows it yet"
        self.name.setToolTip(tip(f"{one.name}, in formulas {one.handle}. What follows: {said}"))
        self.name.setAccessibleName(f"{one.name}: {len(follow)} follow")
        self.field.set_unit(self.field.dial.unit or (design.sheet.unit if one.measure == "length" else ""), design.sheet.resolution)
        self.field.show_value(one.value)
        self.slider.show_value(one.value)

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.setVisible(bool(sentence))

    def _begin(self) -> None:
        self._visit = object()

    def _end(self) -> None:
        self._visit = None
        self.document.end_visit()

    def _turn(self, value: float) -> None:
        self._visit = self._visit or object()
        try:
            design = set_named(self.document.design, self.id, value)
        except InputError as error:
            self._refuse(error.message)
            return
        self._refuse("")
        self.document.apply(f"Named dial, {self.field.accessibleName()}", design, self._visit)

    def open_menu(self) -> None:
        """Open what can be done with it: another name, away with it."""
        menu = PopupMenu(self)
        address = Address("", "", self.id)
        menu.addAction("Test strip of this", partial(self.ask, "strip", address))
        menu.addAction("Siblings of this", partial(self.ask, "siblings", address))
        moves = motion_at(self.document.design, Place(dial=self.id)) is not None
        for words, what in (("Stop moving this", "stop"),) if moves else MOVES:
            menu.addAction(words, partial(self.ask, f"move {what}", address))
        menu.addAction("Rename…", self.rename)
        menu.addAction("Remove; what follows keeps its value", partial(self._apply, "Remove named dial", remove_named))
        menu.popup(self.name.mapToGlobal(QPoint(0, self.name.height())))

    def rename(self) -> None:
        """Ask for another name."""
        now = next(one.name for one in self.document.design.dials if one.id == self.id)
        name, taken = QInputDialog.getText(self, "Rename", "Name of the dial", QLineEdit.EchoMode.Normal, now)
        if taken and name.strip():
            self.document.apply("Rename named dial", rename_named(self.document.design, self.id, name))

    def _apply(self, words: str, change: object) -> None:
        assert callable(change)
        self.document.apply(words, change(self.document.design, self.id))
