"""What is done to several chosen layers at once, in a line under the tree."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from under_lattice.colour.blend import BLENDS, SPOKEN
from under_lattice.declare.dials import Ratio
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.work.layers import AnyLayer

ACTS = (("hide", "Hide or show"), ("lock", "Lock or unlock"), ("group", "Group"), ("remove", "Remove"))
DIFFER = "they differ"


class SeveralBar(QWidget):
    """Opacity and blend of all, and what can be done to all; there while more than one is chosen."""

    laid = Signal(dict)
    asked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 2)
        grid.setVerticalSpacing(4)
        self.words = Words("")
        self.words.setObjectName("small")
        self.opacity = NumberField(Ratio("Opacity", "Of all chosen layers."), "%", 96.0, "Opacity of the chosen layers")
        self.opacity.entered.connect(lambda value: self.laid.emit({"opacity": value}))
        self.opacity.nudged.connect(self.opacity.step_seen)
        self.opacity.keep_whole(px(66))
        self.blend = QuietCombo("Blend of the chosen layers")
        self.blend.addItem(DIFFER)
        self.blend.addItems(SPOKEN)
        self.blend.textActivated.connect(self._blended)
        grid.addWidget(self.words, 0, 0)
        grid.addWidget(self.opacity, 0, 1)
        grid.addWidget(self.blend, 0, 2)
        grid.setColumnStretch(2, 1)
        row = QHBoxLayout()
        row.setSpacing(4)
        for what, words in ACTS:
            button = QPushButton(words)
            button.setObjectName("link")
            button.clicked.connect(lambda _=False, what=what: self.asked.emit(what))
            row.addWidget(button)
        row.addStretch(1)
        grid.addLayout(row, 1, 0, 1, 3)

    def _blended(self, words: str) -> None:
        if words in SPOKEN:
            self.laid.emit({"blend": BLENDS[SPOKEN.index(words)]})

    def show_layers(self, layers: Sequence[AnyLayer]) -> None:
        """Show what the chosen layers have in common."""
        self.setVisible(len(layers) > 1)
        if len(layers) < 2:
            return
        self.words.setText(f"{len(layers)} layers")
        opacities = [getattr(layer.end, "opacity", 100.0) for layer in layers]
        first = opacities[0]
        if isinstance(first, float):
            self.opacity.show_value(first)
        blends = {getattr(layer.end, "blend", "normal") for layer in layers}
        self.blend.setCurrentText(SPOKEN[BLENDS.index(blends.pop())] if len(blends) == 1 else DIFFER)
