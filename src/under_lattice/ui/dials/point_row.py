"""A spot of the motif or the sheet, with an offset."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QWidget

from under_lattice.declare.dials import Length
from under_lattice.declare.frozen import edited
from under_lattice.rules.shared.anchor import SPOTS
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words

CORNERS = 6


class PointRow(DialRow):
    """A list of spots, and below it how far from the spot the point lies."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.combo = QuietCombo(self.dial.label)
        self.combo.addItems([f"motif {spot}" for spot in SPOTS])
        self.combo.addItems([f"motif corner {k + 1}" for k in range(CORNERS)])
        self.combo.addItems([f"motif side {k + 1}" for k in range(CORNERS)])
        self.combo.addItems([f"sheet {spot}" for spot in SPOTS])
        self.combo.setToolTip(self.dial.words)
        self.combo.textActivated.connect(lambda spot: self.turn(edited(self.value, spot=spot, dx=0.0, dy=0.0)))
        self.line.addWidget(self.combo, 1)
        self.offset = QWidget()
        row = QHBoxLayout(self.offset)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(4)
        row.addStretch(1)
        self.fields: dict[str, NumberField] = {}
        for axis, words in (("dx", "across"), ("dy", "down")):
            dial = Length(f"{self.dial.label}, {words}", f"Offset {words} from the spot.")
            field = NumberField(dial, hand.sheet.unit, hand.sheet.resolution, dial.label)
            field.entered.connect(lambda value, axis=axis: self.turn(edited(self.value, **{axis: value}), self))
            field.refused.connect(self.refuse)
            field.abandoned.connect(lambda: hand.document.give_up(self))
            field.left.connect(hand.document.end_visit)
            field.scale = hand.scale
            field.nudged.connect(field.step_seen)
            self.fields[axis] = field
            label = Words(words)
            label.setObjectName("small")
            label.setBuddy(field)
            row.addWidget(label)
            field.keep_whole(px(72))
            row.addWidget(field)
        self.below.addWidget(self.offset)

    def refresh(self) -> None:
        anchor = self.value
        if self.combo.findText(anchor.spot) < 0:
            self.combo.addItem(anchor.spot)
        self.combo.setCurrentText(anchor.spot)
        for axis, field in self.fields.items():
            field.show_value(getattr(anchor, axis))
