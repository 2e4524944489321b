"""Choosers with live pictures: what each rule would do to this work, what each group would make of its motif."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, get_args

from PySide6.QtCore import QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QFontInfo, QImage, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QDialog, QFrame, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from under_lattice.geometry.groups import Frieze, Plane
from under_lattice.rules import RULES
from under_lattice.rules.base import Rule
from under_lattice.rules.surroundings import Start
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.workers.pictures import Pictures

MOTIFS: tuple[type[Rule], ...] = tuple(rule for rule in RULES if rule.family == "motif")
SMALL = 0.86  # of the size of type, for why a rule cannot act
SHOWN_ROWS = 4  # of tiles; more are scrolled
SCROLL_WIDE = 16
ADDABLE: tuple[type[Rule], ...] = tuple(rule for rule in RULES if rule.family not in ("motif", "end"))


@dataclass(frozen=True)
class Offer:
    """One thing to choose: its key, title, words and what is given back."""

    key: str
    title: str
    words: str
    payload: Any


class PictureTile(QAbstractButton):
    """One offer with its picture and its words."""

    def __init__(self, offer: Offer, size: QSize) -> None:
        super().__init__()
        self.offer = offer
        self.picture: QImage | None = None
        self.problem = ""
        self.setAccessibleName(f"{offer.title}: {offer.words}" if offer.words else offer.title)
        self.setToolTip(offer.words)
        self.setFixedSize(size)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        strong = self.hasFocus()
        painter.setPen(QPen(colour("ver" if strong else "line"), 2 if strong else 1))
        painter.setBrush(colour("hover" if self.underMouse() else "card"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        below = 64 if self.offer.words else 28
        box = QRectF(8, 8, self.width() - 16, self.height() - 8 - below)
        painter.fillRect(box, colour("field"))
        if self.picture is not None:
            painter.drawImage(box, self.picture, _middle_of(self.picture, box))
        elif self.problem:
            painter.setPen(colour("text2"))
            flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
            small = QFont(self.font())
            small.setPixelSize(round(QFontInfo(small).pixelSize() * SMALL))
            painter.setFont(small)
            painter.drawText(box.adjusted(4, 2, -4, -2), flags, self.problem)
        painter.setPen(QPen(colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        bold = QFont(self.font())
        bold.setBold(True)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        wide = self.width() - 16
        painter.drawText(QRect(8, int(box.bottom()) + 4, wide, 20), Qt.AlignmentFlag.AlignVCenter, self.offer.title)
        painter.setFont(self.font())
        painter.setPen(colour("text2"))
        flags = int(Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
        painter.drawText(QRect(8, int(box.bottom()) + 24, wide, 36), flags, _short(self.offer.words))
        painter.end()


def _middle_of(picture: QImage, box: QRectF) -> QRectF:
    """The middle of a picture that has the shape of a box."""
    scale = min(picture.width() / box.width(), picture.height() / box.height())
    wide, high = box.width() * scale, box.height() * scale
    return QRectF((picture.width() - wide) / 2, (picture.height() - high) / 2, wide, high)


def _short(words: str) -> str:
    first = words.split(";")[0].split(":")[0].rstrip(".")
    return first if len(first) < 58 else first[:56] + "…"


class PictureChooser(QDialog):
    """Choose one of several offers; `chosen` carries its payload."""

    chosen = Signal(object)

    def __init__(
        self,
        parent: QWidget,
        pictures: Pictures,
        title: str,
        words: str,
        offers: list[Offer],
        across: int,
        size: QSize,
        tiles: type[PictureTile] = PictureTile,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.pictures, self.across = pictures, across
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(12)
        head = QLabel(words)
        head.setObjectName("bold")
        column.addWidget(head)
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setSpacing(8)
        grid.setContentsMargins(0, 0, 0, 0)
        self.tiles: dict[str, PictureTile] = {}
        for k, offer in enumerate(offers):
            tile = tiles(offer, size)
            tile.clicked.connect(lambda _=False, offer=offer: self._take(offer))
            self.tiles[offer.key] = tile
            grid.addWidget(tile, k // across, k % across)
        self.area = QScrollArea()
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(inside)
        rows, whole = -(-len(offers) // across), inside.sizeHint()
        seen = min(rows, SHOWN_ROWS)
        self.area.setFixedSize(whole.width() + (SCROLL_WIDE if rows > seen else 0), int(whole.height() * seen / rows))
        column.addWidget(self.area)
        pictures.made.connect(self._made)
        pictures.refused.connect(self.show_problem)

    def _made(self, key: str, picture: QImage) -> None:
        if key in self.tiles:
            self.tiles[key].picture = picture
            self.tiles[key].update()

    def show_problem(self, key: str, sentence: str) -> None:
        """Say why something could not act here."""
        tile = self.tiles.get(key)
        if tile is not None:
            tile.problem = sentence[:1].upper() + sentence[1:]
            tile.update()

    def _take(self, offer: Offer) -> None:
        self.accept()
        self.chosen.emit(offer.payload)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        names = list(self.tiles)
        ways = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: self.across, Qt.Key.Key_Up: -self.across}
        step = ways.get(Qt.Key(event.key()))
        if step is not None:
            at = next((k for k, name in enumerate(names) if self.tiles[name].hasFocus()), 0)
            tile = self.tiles[names[min(max(at + step, 0), len(names) - 1)]]
            tile.setFocus()
            self.area.ensureWidgetVisible(tile)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            for tile in self.tiles.values():
                if tile.hasFocus():
                    tile.click()
        else:
            super().keyPressEvent(event)

    def done(self, result: int) -> None:
        self.pictures.made.disconnect(self._made)
        self.pictures.refused.disconnect(self.show_problem)
        self.pictures.drop()
        super().done(result)


def rule_chooser(parent: QWidget, pictures: Pictures) -> PictureChooser:
    """Return the chooser of rules; the keys are ``rule:`` and the kind."""
    offers = [Offer(f"rule:{kind.model_fields['kind'].default}", kind.title, kind.words, kind) for kind in ADDABLE]
    words = "What each rule would do to this work, here in the chain"
    return PictureChooser(parent, pictures, "Add a rule", words, offers, 7, QSize(160, 160))


def motif_chooser(parent: QWidget, pictures: Pictures) -> PictureChooser:
    """Return the chooser of motifs; the keys are ``motif:`` and the kind."""
    offers = []
    for kind in MOTIFS:  # what it is is its title already; the words go on from there
        about = kind.words.partition(":" if ":" in kind.words else ";")[2].strip()
        offers.append(Offer(f"motif:{kind.model_fields['kind'].default}", kind.noun(), about[:1].upper() + about[1:], kind))
    words = "This layer with each motif; what stands below it stays"
    return PictureChooser(parent, pictures, "Change motif", words, offers, 7, QSize(160, 160))


def start_chooser(parent: QWidget, pictures: Pictures, rule: Rule, starts: tuple[Start, ...]) -> PictureChooser:
    """Return the chooser of a rule's named starts; the keys are ``begin:`` and the name."""
    offers = [Offer(f"begin:{start.name}", start.name, start.words, start) for start in starts]
    words = f"Ways to begin with {rule.shown_name()}; its numbers are set anew"
    return PictureChooser(parent, pictures, "Presets of this rule", words, offers, 3, QSize(210, 200))


def group_chooser(parent: QWidget, pictures: Pictures, dial: str) -> PictureChooser:
    """Return the chooser of symmetry groups, of the plane or of a strip; the keys are ``group:`` and the name."""
    offers = [Offer(f"group:{name}", name, "", name) for name in get_args(Plane if dial == "group" else Frieze)]
    words = "The present motif in each symmetry group, by its crystallographic name"
    return PictureChooser(parent, pictures, "Choose a symmetry group", words, offers, 6, QSize(156, 150))
