"""What F1 shows of the dial that has the focus: its sentence, what it takes, and the work before and after it is turned."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPixmap
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from under_lattice.declare.dials import NumberDial
from under_lattice.explore.before_after import turned_far
from under_lattice.explore.strips import address_text
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.tokens import CARD_LEFT, px
from under_lattice.ui.look.words import Words
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address
from under_lattice.work.model import Design

WIDE, HIGH = 136, 102  # px of a picture
KEYS = ("before", "after")


class DialShown(QWidget):
    """Words and two pictures of one dial of a work.

    Parameters
    ----------
    row : DialRow
        Of the dial.
    design : Design
    pictures : Pictures
        Makes the two.
    """

    def __init__(self, row: DialRow, design: Design, pictures: Pictures) -> None:
        super().__init__()
        rule, dial = row.hand.rule, row.dial
        end = "end" if isinstance(row.value, Varied) else ""
        address = Address(row.hand.layer, row.hand.rule_id, row.name, end)
        self.images: dict[str, Words] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(CARD_LEFT, 4, 8, 4)
        column.setSpacing(4)
        said = [f"{rule.shown_name()}: {dial.label}", dial.words]
        if isinstance(dial, NumberDial):
            said.append(f"{capital(dial.allowed(design.sheet.unit))}.")
        if idle := rule.idle(row.name):
            said.append(f"It has no effect now: {idle}.")
        said.append(f"In orders and formulas: {address_text(design, address)}")
        self.lines = [Words(words) for words in said]
        for line, name in zip(self.lines, ("bold", "", *["small"] * len(self.lines)), strict=False):
            line.setObjectName(name)
            line.setWordWrap(True)
            column.addWidget(line)
        turned = turned_far(design, address)
        if turned is None:
            return
        grid = QGridLayout()
        grid.setSpacing(4)
        grid.setColumnStretch(2, 1)
        captions = ", ".join(filter(None, ("as it is", turned.before))), turned.after
        for at, (key, one, words) in enumerate(zip(KEYS, (design, turned.design), captions, strict=True)):
            self._add(grid, at, key, words)
            pictures.want(f"{key} {row.name}", partial(picture_of, one, px(WIDE), px(HIGH)))
        column.addLayout(grid)
        self._name = row.name
        pictures.made.connect(self._show)

    def _add(self, grid: QGridLayout, at: int, key: str, words: str) -> None:
        image = self.images[key] = Words("")
        image.setFixedSize(px(WIDE), px(HIGH))
        image.setAccessibleName(f"The work with it {words}")
        caption = Words(words)
        caption.setObjectName("small")
        caption.setFixedWidth(px(WIDE))
        caption.setWordWrap(True)
        grid.addWidget(image, 0, at)
        grid.addWidget(caption, 1, at, Qt.AlignmentFlag.AlignTop)

    def _show(self, key: str, image: QImage) -> None:
        which, _, name = key.partition(" ")
        if which in self.images and name == self._name:
            self.images[which].setPixmap(QPixmap.fromImage(image))
