"""The sheet: size, unit, ground and construction grid; every change shows at once and is one step of undo."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.units import UNITS
from under_lattice.declare.dials import Count, Length, NumberDial
from under_lattice.declare.frozen import edited
from under_lattice.ui.dials.colour_panel import ColourPanel, Swatch
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.state.document import Document
from under_lattice.work.sheets import presets, set_sheet

SIZE = Length("Size", "Of the sheet.", least=0.001, most=1e5)
DENSE = NumberDial("Resolution", "Pixels in an inch, where the unit is px.", least=1, most=10000, digits=0)
SPACING = Length("Spacing", "Of the construction grid.", least=0.001, most=1e5)
DIVISIONS = Count("Divisions", "Parts of each spacing of the grid.", most=20)
DOWN = Length("Spacing down", "Of the level lines of the grid.", least=0.001, most=1e5)


class SheetDialog(Dialog):
    """All that is said of the sheet."""

    def __init__(self, document: Document, grid_shown: QAction, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Sheet")
        self.document, self.visit = document, object()
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        grid = QGridLayout()
        grid.setVerticalSpacing(8)
        column.addLayout(grid)
        self.preset = QuietCombo("Size by name")
        self.preset.addItem("own size")
        self.preset.addItems(list(presets()))
        self.preset.textActivated.connect(self._take_preset)
        self.unit = QuietCombo("Unit")
        self.unit.addItems(UNITS)
        self.unit.textActivated.connect(lambda unit: self._change(unit=unit))
        self.fields: dict[str, NumberField] = {}
        self.error = Words("")
        self.error.setObjectName("error")
        self.error.setWordWrap(True)
        sheet = document.design.sheet
        self._last_ground: str = sheet.background or "#FFFFFF"
        self._field("width", SIZE, sheet.unit)
        self._field("height", SIZE, sheet.unit)
        self._field("resolution", DENSE, "px/in")
        self._field("spacing", SPACING, sheet.unit)
        self.ground = Swatch("Ground colour")
        self.ground.clicked.connect(self._open_ground)
        self.has_ground = QCheckBox("painted")
        self.has_ground.toggled.connect(lambda on: self._change(background=(self._last_ground if on else "")))
        self.shown = QCheckBox("shown; handles snap to it")
        self.shown.setChecked(grid_shown.isChecked())
        self.shown.toggled.connect(lambda on: grid_shown.trigger() if on != grid_shown.isChecked() else None)
        self._field("down", DOWN, sheet.unit)
        self.divisions = NumberField(DIVISIONS, "", sheet.resolution, "Divisions of the grid")
        self.divisions.entered.connect(lambda parts: self._change_grid(divisions=int(parts)))
        self.divisions.refused.connect(self.error.setText)
        self.divisions.nudged.connect(lambda way, size: self.divisions.step_by(way))
        self.form = QuietCombo("Form of the grid")
        self.form.addItems(["squares", "triangles"])
        self.form.textActivated.connect(lambda form: self._change_grid(form=form))
        self._lay_out(column, grid)
        document.changed.connect(self._show)
        self._show()
        self.setFixedWidth(px(360))

    def _lay_out(self, column: QVBoxLayout, grid: QGridLayout) -> None:
        ground = QHBoxLayout()
        ground.addWidget(self.ground)
        ground.addWidget(self.has_ground)
        ground.addStretch(1)
        rows: list[tuple[str, Any]] = [
            ("Size by name", self.preset),
            ("Width", self.fields["width"]),
            ("Height", self.fields["height"]),
            ("Unit", self.unit),
            ("Resolution", self.fields["resolution"]),
            ("Ground", ground),
            ("Grid", self.shown),
            ("Grid form", self.form),
            ("Grid spacing", self.fields["spacing"]),
            ("Spacing down", self.fields["down"]),
            ("Divisions", self.divisions),
        ]
        for row, (words, part) in enumerate(rows):
            grid.addWidget(Words(words), row, 0)
            if isinstance(part, QHBoxLayout):
                grid.addLayout(part, row, 1)
            else:
                grid.addWidget(part, row, 1)
        hint = Words("Another unit keeps the real size; all lengths of the work are converted.")
        hint.setObjectName("small")
        hint.setWordWrap(True)
        column.addWidget(hint)
        column.addWidget(self.error)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        column.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)

    def _field(self, name: str, dial: NumberDial, unit: str) -> None:
        field = NumberField(dial, unit, self.document.design.sheet.resolution, name.capitalize())
        if name in ("spacing", "down"):
            field.entered.connect(lambda value: self._change_grid(**{name: value}))
        else:
            field.entered.connect(lambda value, name=name: self._change(**{name: value}))
        field.refused.connect(self.error.setText)
        field.nudged.connect(lambda way, size: field.step_by(way * 10.0 ** (size + 1)))
        self.fields[name] = field

    def _show(self) -> None:
        sheet = self.document.design.sheet
        for name, value in (
            ("width", sheet.width),
            ("height", sheet.height),
            ("resolution", sheet.resolution),
            ("spacing", sheet.grid.spacing),
            ("down", sheet.grid.down or sheet.grid.spacing),
        ):
            field = self.fields[name]
            field.set_unit("px/in" if name == "resolution" else sheet.unit, sheet.resolution)
            field.show_value(value)
        self.fields["resolution"].setEnabled(sheet.unit == "px")
        self.unit.setCurrentText(sheet.unit)
        named = next(
            (k for k, one in presets().items() if (one.width, one.height, one.unit) == (sheet.width, sheet.height, sheet.unit)),
            "own size",
        )
        self.preset.setCurrentText(named)
        self.ground.show_value(sheet.background)
        self.has_ground.blockSignals(True)
        self.has_ground.setChecked(bool(sheet.background))
        self.has_ground.blockSignals(False)
        self._last_ground = sheet.background or self._last_ground
        self.form.setCurrentText(sheet.grid.form)
        self.fields["down"].setEnabled(sheet.grid.form == "squares")
        self.divisions.show_value(sheet.grid.divisions)

    def _take_preset(self, name: str) -> None:
        if name in presets():
            one = presets()[name]
            self._change(unit=one.unit, width=one.width, height=one.height)

    def _change(self, **changes: Any) -> None:
        try:
            design = set_sheet(self.document.design, **changes)
        except InputError as error:
            self.error.setText(error.message)
            return
        self.error.setText("")
        self.document.apply("Sheet", design, self.visit)

    def _change_grid(self, **changes: Any) -> None:
        self._change(grid=edited(self.document.design.sheet.grid, **changes))

    def _open_ground(self) -> None:
        self.panel = ColourPanel(self._last_ground, [])
        self.panel.changed.connect(lambda value: self._change(background=value))
        self.panel.open_under(self.ground)

    def done(self, result: int) -> None:
        self.document.changed.disconnect(self._show)
        self.document.end_visit()
        super().done(result)
