"""The options of a format, one row each, built from its declaration."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QGridLayout, QWidget

from under_lattice.declare.dials import Choice, Dial, NumberDial
from under_lattice.declare.option_dials import Switch
from under_lattice.output import Format
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.row import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.work.model import Sheet


class OptionRows(QWidget):
    """Fields for numbers, boxes for what is on or off, lists for choices."""

    turned = Signal(str, object)  # option, value
    refused = Signal(str)

    def __init__(self, options: Format, sheet: Sheet) -> None:
        super().__init__()
        self.sheet = sheet
        self.parts: dict[str, Any] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        dials = options.dials()
        switches = [name for name, dial in dials.items() if isinstance(dial, Switch)]
        for row, name in enumerate([*(name for name in dials if name not in switches), *switches]):
            part = self.parts[name] = self._part(name, dials[name])
            part.setToolTip(dials[name].words)
            if name in switches:
                grid.addWidget(part, row, 0, 1, 3)
            else:
                grid.addWidget(Words(dials[name].label), row, 0)
                grid.addWidget(part, row, 1)
        grid.setColumnStretch(2, 1)
        self.show_options(options)

    def _part(self, name: str, dial: Dial) -> QWidget:
        if isinstance(dial, Switch):
            box = QCheckBox(f"{dial.label}: {dial.words[:1].lower()}{dial.words[1:].rstrip('.')}")
            box.clicked.connect(lambda on: self.turned.emit(name, on))
            return box
        if isinstance(dial, Choice):
            combo = QuietCombo(dial.label)
            combo.addItems(list(dial.options))
            combo.textActivated.connect(lambda text: self.turned.emit(name, text))
            return combo
        assert isinstance(dial, NumberDial)
        field = NumberField(dial, dial.unit, self.sheet.resolution, dial.label)
        field.keep_whole(px(96))
        field.entered.connect(lambda value: self.turned.emit(name, value))
        field.refused.connect(self.refused)
        return field

    def show_options(self, options: Format) -> None:
        """Show the options as they come out on the sheet."""
        numbers = options.shown(self.sheet)
        for name, part in self.parts.items():
            if name in numbers:
                part.show_value(numbers[name])
            elif isinstance(part, QCheckBox):
                part.setChecked(getattr(options, name))
            else:
                part.setCurrentText(getattr(options, name))
        if "transparent" in self.parts:
            self.parts["transparent"].setEnabled(bool(self.sheet.background))
