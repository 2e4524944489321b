"""One axis of a strip in its row: which dial, from where to where, in how many steps, or which options of a list."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QToolButton, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.colour_dials import Palette
from under_lattice.declare.dials import Count, NumberDial
from under_lattice.explore.movable import Movable, Movables
from under_lattice.explore.strips import (
    STEPS_MOST,
    Axis,
    kept_axis,
    listed_axis,
    movable_at,
    number_axis,
    options_of,
    suggested_axis,
)
from under_lattice.library.palettes import PALETTES
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.work.address import Address
from under_lattice.work.model import Design, Kept

STEPS = Count("Steps", "How many pictures.", least=2, most=STEPS_MOST, slides=(2, 12))
NOTHING, KEPT = "nothing", "kept versions"


class AxisRow(QWidget):
    """Edits one axis; `turned` carries it, or None for nothing."""

    turned = Signal(object)
    refused = Signal(str)

    def __init__(self, sign: str, words: str, optional: bool) -> None:
        super().__init__()
        self.optional, self.words = optional, words
        self.design: Design = Design()
        self.kept: Sequence[Kept] = ()
        self.axis: Axis | None = None
        self.choices: list[Movable] = []
        self._parts: list[QWidget] = []
        self._shown: tuple[object, ...] = ()  # what the parts were made for
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(5)
        mark, label = Words(sign), Words(words)
        label.setObjectName("small")
        label.setFixedWidth(px(38))
        mark.setFixedWidth(px(14))
        self.which = QuietCombo(f"What is stepped {words}", Qt.TextElideMode.ElideLeft)  # the dial stands at the end
        self.which.setFixedWidth(px(166))
        self.which.activated.connect(self._choose)
        for part in (mark, label, self.which):
            self.row.addWidget(part)
        self.row.addStretch(1)

    def show_axis(self, design: Design, axis: Axis | None, kept: Sequence[Kept]) -> None:
        """Show an axis, and offer all that can be stepped."""
        if design is not self.design or kept is not self.kept:
            self.design, self.kept = design, kept
            self.choices = [
                one for one in Movables(design).all if isinstance(one.dial, (NumberDial, Palette)) or options_of(one.dial)
            ]
            offered = self._offered()
            if offered != [self.which.itemText(k) for k in range(self.which.count())]:
                self.which.clear()
                self.which.addItems(offered)
        self.axis = axis
        at = self._index(axis)
        self.which.setCurrentIndex(at)
        self._show_parts()

    def _offered(self) -> list[str]:
        """What can be stepped, in words."""
        design, several = self.design, len(self.design.chains()) > 1
        layers = (design.layer(one.address.layer).name if one.address.layer and several else "" for one in self.choices)
        named = [": ".join(filter(None, (layer, one.rule, one.label))) for layer, one in zip(layers, self.choices, strict=True)]
        return [*([NOTHING] if self.optional else []), *named, *([KEPT] if self.kept else [])]

    def _index(self, axis: Axis | None) -> int:
        if axis is None:
            return 0
        if axis.address is None:
            return self.which.count() - 1
        found = next((k for k, one in enumerate(self.choices) if one.address == axis.address), -1)
        return found + int(self.optional)

    def _show_parts(self) -> None:
        """Show what an axis is stepped by; the fields of numbers are made anew only where it is another one than before."""
        shown = self.axis, self.design.sheet.unit, self.design.sheet.resolution
        if shown == self._shown and self.axis is not None and self.axis.run is not None:
            return
        self._shown = shown
        for part in self._parts:
            part.hide()
            part.deleteLater()
        self._parts = []
        axis = self.axis
        if axis is None:
            return
        if axis.run is not None and axis.address is not None:
            self._number_parts(axis, movable_at(self.design, axis.address))
        else:
            self._list_part(axis)

    def _add(self, part: QWidget) -> None:
        self._parts.append(part)
        self.row.insertWidget(self.row.count() - 1, part)

    def _said(self, text: str) -> None:
        label = Words(text)
        label.setObjectName("small")
        self._add(label)

    def _number_parts(self, axis: Axis, one: Movable) -> None:
        assert axis.run is not None
        assert isinstance(one.dial, NumberDial)
        start, stop, ratio = axis.run
        unit = one.dial.unit or (self.design.sheet.unit if one.dial.kind == "length" else "")
        fields = []
        for words, value in (("from", start), ("to", stop)):
            self._said(words)
            field = NumberField(one.dial, unit, self.design.sheet.resolution, f"{words}, {self.words}")
            field.keep_whole(px(62))
            field.show_value(value)
            field.refused.connect(self.refused)
            field.nudged.connect(field.step_seen)
            fields.append(field)
            self._add(field)
        self._said("in")
        steps = NumberField(STEPS, "", 96.0, f"steps {self.words}")
        steps.keep_whole(px(30))
        steps.show_value(len(axis.steps))
        steps.refused.connect(self.refused)
        steps.nudged.connect(lambda way, size: steps.step_by(way))
        self._add(steps)
        self._said("steps")
        by_ratio = QToolButton()
        by_ratio.setObjectName("step")
        by_ratio.setText("by ratio" if ratio else "even")
        by_ratio.setToolTip("Even steps, or each the same ratio to the one before")
        self._add(by_ratio)
        by_ratio.setVisible(one.dial.kind in ("length", "ratio", "count"))

        def turn(ratio_now: bool = ratio) -> None:
            self._try(
                lambda: number_axis(self.design, one.address, fields[0].value, fields[1].value, int(steps.value), ratio_now), False
            )

        for part in (*fields, steps):
            part.entered.connect(lambda _: turn())
        by_ratio.clicked.connect(lambda: turn(not ratio))

    def _list_part(self, axis: Axis) -> None:
        button = QPushButton(f"{len(axis.steps)} of {len(self._all(axis))} ▾")
        button.setAccessibleName(f"Which are stepped {self.words}")
        menu = QMenu(button)
        shown = [step.words for step in axis.steps]
        for words in self._all(axis):
            entry = QAction(words, menu)
            entry.setCheckable(True)
            entry.setChecked(words in shown)
            entry.triggered.connect(partial(self._check, words))
            menu.addAction(entry)
        button.clicked.connect(lambda: menu.popup(button.mapToGlobal(button.rect().bottomLeft())))
        self._add(button)

    def _full(self, axis: Axis) -> Axis:
        """The axis with all there is."""
        if axis.address is None:
            return kept_axis(self.kept)
        one = movable_at(self.design, axis.address)
        if isinstance(one.dial, Palette):
            return self._palettes(one)
        return listed_axis(self.design, axis.address, options_of(one.dial)) if options_of(one.dial) else axis

    def _palettes(self, one: Movable) -> Axis:
        return listed_axis(self.design, one.address, [one.value, *PALETTES.values()], ["as it is", *PALETTES])

    def _all(self, axis: Axis) -> list[str]:
        return [step.words for step in self._full(axis).steps]

    def _check(self, words: str, on: bool) -> None:
        assert self.axis is not None
        wanted = {step.words for step in self.axis.steps} | {words} if on else {step.words for step in self.axis.steps} - {words}
        full = self._full(self.axis)
        steps = tuple(step for step in full.steps if step.words in wanted)
        if steps:
            self.axis = Axis(full.address, full.label, steps)
            self._show_parts()
            self.turned.emit(self.axis)

    def _choose(self, at: int) -> None:
        if self.optional and at == 0:
            self.turned.emit(None)
        elif self.kept and at == self.which.count() - 1:
            self._try(lambda: kept_axis(self.kept))
        else:
            self.choose(self.choices[at - int(self.optional)].address)

    def choose(self, address: Address) -> None:
        """Step the dial at an address, with steps that suit it."""

        def axis() -> Axis:
            one = movable_at(self.design, address)
            return self._palettes(one) if isinstance(one.dial, Palette) else suggested_axis(self.design, address)

        self._try(axis)

    def _try(self, make: Callable[[], Axis], fresh: bool = True) -> None:
        try:
            axis = make()
        except InputError as error:
            self.refused.emit(error.message)
            return
        self.refused.emit("")
        self.axis = axis
        if fresh:
            self._show_parts()
        self.turned.emit(axis)
