"""The options of a format, one row each, built from its declaration; those seldom wanted are folded."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtGui import QHideEvent
from PySide6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Choice, Dial, LayerChoice, NumberDial
from under_lattice.declare.option_dials import Colours, Switch
from under_lattice.output import Format
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, say_more
from under_lattice.work.model import Design, Sheet


class OptionRows(QWidget):
    """Fields for numbers, boxes for what is on or off, lists for choices; what has no effect now is not there."""

    turned = Signal(str, object)  # option, value
    refused = Signal(str)
    changed_size = Signal()

    def __init__(self, options: Format, design: Design) -> None:
        super().__init__()
        self.design, self.sheet, self.loop, self._options = design, design.sheet, design.loop, options
        self.parts: dict[str, Any] = {}
        self._rows: dict[str, tuple[QWidget, ...]] = {}
        self._folded = True
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.dials = options.dials()
        self._lay(column, [name for name, dial in self.dials.items() if dial.main])
        seldom = [name for name, dial in self.dials.items() if not dial.main]
        self.more = QPushButton()
        self.more.setObjectName("more")
        self.more.setAutoDefault(False)
        self.more.clicked.connect(self._unfold)
        column.addWidget(self.more)
        self._lay(column, seldom)
        self.show_options(options)

    def _lay(self, column: QVBoxLayout, names: list[str]) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(6)
        switches = [name for name in names if isinstance(self.dials[name], Switch)]
        for row, name in enumerate([*(name for name in names if name not in switches), *switches]):
            part = self.parts[name] = self._part(name, self.dials[name])
            part.setToolTip(self.dials[name].words)
            if name in switches:
                grid.addWidget(part, row, 0, 1, 2)
                self._rows[name] = (part,)
            else:
                label = Words(self.dials[name].label)
                label.setToolTip(self.dials[name].words)
                grid.addWidget(label, row, 0)
                grid.addWidget(part, row, 1)
                self._rows[name] = label, part
        grid.setColumnMinimumWidth(0, px(120))
        grid.setColumnStretch(1, 1)
        column.addLayout(grid)

    def _part(self, name: str, dial: Dial) -> QWidget:
        if isinstance(dial, Switch):
            box = QCheckBox(dial.label)
            box.clicked.connect(lambda on: self.turned.emit(name, on))
            return box
        if isinstance(dial, Choice):
            combo = QuietCombo(dial.label)
            combo.addItems(list(dial.options))
            combo.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            combo.textActivated.connect(lambda text: self.turned.emit(name, text))
            return combo
        if isinstance(dial, LayerChoice):
            return self._layers(name, dial)
        if isinstance(dial, Colours):
            return self._line(name, dial)
        assert isinstance(dial, NumberDial)
        field = NumberField(dial, self.sheet.unit if dial.kind == "length" else dial.unit, self.sheet.resolution, dial.label)
        field.keep_whole(px(96))
        field.entered.connect(lambda value: self.turned.emit(name, value))
        field.refused.connect(self.refused)
        return field

    def _line(self, name: str, dial: Dial) -> QLineEdit:
        """A line of text that is read while it is typed."""
        line = QLineEdit()
        line.setAccessibleName(dial.label)
        line.textEdited.connect(lambda text: self.turned.emit(name, text))
        return line

    def _layers(self, name: str, dial: LayerChoice) -> QuietCombo:
        """All layers together, or one of them; members of a group stand under it."""
        combo = QuietCombo(dial.label)
        combo.addItem("all that are seen", "")
        for layer in self.design.all_layers():
            inside = len(list(self.design.tree.around(layer.id))) - 1
            combo.addItem("    " * inside + layer.name, layer.id)
        combo.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        combo.activated.connect(lambda at: self.turned.emit(name, combo.itemData(at)))
        return combo

    def _unfold(self) -> None:
        self._folded = not self._folded
        self.show_options(self._options)
        self.changed_size.emit()

    def hideEvent(self, event: QHideEvent) -> None:
        for name, part in self.parts.items():
            if isinstance(part, QLineEdit) and isinstance(self.dials[name], Colours):
                part.setText(getattr(self._options, name))  # what was refused is left behind
        super().hideEvent(event)

    def show_options(self, options: Format, page: Sheet | None = None) -> None:
        """Show the options as they come out on a page; the sheet without."""
        self._options = options
        numbers = options.shown(page or self.sheet, self.loop)
        for name, part in self.parts.items():
            if name in numbers:
                part.show_value(numbers[name])
            elif isinstance(part, QCheckBox):
                part.setChecked(getattr(options, name))
            elif isinstance(part, QLineEdit):
                if not _stands_for(part.text(), self.dials[name], getattr(options, name)):
                    part.setText(getattr(options, name))
            elif isinstance(self.dials[name], LayerChoice):
                part.setCurrentIndex(max(0, part.findData(getattr(options, name))))
            else:
                part.setCurrentText(getattr(options, name))
        seldom = []
        for name, widgets in self._rows.items():
            dial = self.dials[name]
            holds = all(getattr(options, when.field) in when.values for when in dial.when)
            holds = holds and (not isinstance(dial, LayerChoice) or self.parts[name].count() > 2)  # of one layer nothing is chosen
            seldom += [dial.label] if holds and not dial.main else []
            for widget in widgets:
                widget.setVisible(holds and (dial.main or not self._folded))
        self.more.setVisible(bool(seldom))
        say_more(self.more, seldom, not self._folded, px(380))
        if "transparent" in self.parts:
            self.parts["transparent"].setEnabled(bool(self.sheet.background))


def _stands_for(text: str, dial: Dial, value: str) -> bool:
    """Whether a text that is typed may stay as it is: it says the same, or was refused and is to be mended."""
    try:
        return bool(dial.check(text) == value)
    except InputError:
        return True
