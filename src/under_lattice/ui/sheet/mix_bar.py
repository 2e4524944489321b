"""The bar over the sheet that mixes a kept version with the work: a thread from one to the other, and a bead between."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Ratio
from under_lattice.explore.mixing import mix
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.parts import ThreadSlider
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.state.looked_at import Instead
from under_lattice.work.model import Design, Kept

SHARE = Ratio("Share", "How much of the kept version: 0 is the work as it is, 100 the kept one.")
HALF = 50.0


class MixBar(QWidget):
    """Hidden until something is mixed."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.desk = desk
        self.other: Kept | None = None
        self.share = HALF
        self.mixed: Design = desk.document.design
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 6, 24, 6)
        row.setSpacing(8)
        self.name = Words("")
        self.name.setMaximumWidth(150)
        self.slider = ThreadSlider(0.0, 100.0, "Share of the kept version")
        self.slider.setFixedWidth(px(220))
        self.slider.moved.connect(lambda value: self.show_share(round(value)))
        self.field = NumberField(SHARE, "%", 96.0, "Share of the kept version, per cent")
        self.field.keep_whole(px(58))
        self.field.entered.connect(self.show_share)
        self.field.nudged.connect(self.field.step_seen)
        self.adopt, self.keep, self.close_button = QPushButton("Adopt"), QPushButton("Keep"), QPushButton("Close")
        self.adopt.setToolTip("Go on from this mixture; one step of undo")
        self.adopt.clicked.connect(self._adopt)
        self.keep.clicked.connect(lambda: desk.keep(self.mixed, f"{self.share:.0f} % {self.other.name if self.other else ''}"))
        self.close_button.clicked.connect(self.close_bar)
        row.addWidget(Words("now"))
        for part in (self.slider, self.name, self.field):
            row.addWidget(part)
        row.addStretch(1)
        for button in (self.adopt, self.keep, self.close_button):
            row.addWidget(button)
        desk.document.changed.connect(self.close_bar)
        self.hide()

    def begin(self, one: Kept) -> None:
        """Mix with a version, half of each to begin with; a version of another build is refused in the facts."""
        try:
            mix(self.desk.document.design, one.design, 0.5)
        except InputError as error:
            self.desk.told.emit(error.message)
            return
        self.other = one
        self.name.setText(self.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, 146))
        self.show()
        self.show_share(HALF)
        self.field.setFocus()

    def show_share(self, share: float) -> None:
        """Show the mixture at a share, 0..100, on the sheet."""
        if self.other is None:
            return
        self.share = share
        self.slider.show_value(share)
        self.field.show_value(share)
        self.mixed = mix(self.desk.document.design, self.other.design, share / 100)
        self.desk.looked.instead = Instead(self.mixed, f"{100 - share:.0f} % now, {share:.0f} % {self.other.name}")

    def _adopt(self) -> None:
        mixed, other = self.mixed, self.other
        self.close_bar()
        if other is not None:
            self.desk.document.apply(f"Mix with {other.name}", mixed, whole=True)

    def close_bar(self) -> None:
        """End it; the sheet shows the work."""
        if self.other is not None:
            self.other = None
            self.desk.looked.instead = None
            self.hide()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close_bar()
        else:
            super().keyPressEvent(event)
