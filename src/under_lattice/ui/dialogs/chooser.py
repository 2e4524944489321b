"""A chooser with live pictures: what each offer would make of this work, under headings, filtered by typing."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from PySide6.QtCore import QPoint, QRect, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QFont, QFontInfo, QFontMetrics, QImage, QKeyEvent, QPainter, QPaintEvent, QPen, QShowEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import Words
from under_lattice.ui.workers.pictures import Pictures

SMALL = 0.86  # of the size of type, for why a rule cannot act
SCROLL_WIDE = 16
ROUND = 160  # px round the tiles: margins, words, the line to type in, and the window that is seen round all
ARROWS = (Qt.Key.Key_Right, Qt.Key.Key_Left, Qt.Key.Key_Down, Qt.Key.Key_Up)
EDGE = 8  # px round the picture of a tile
_NUMBER = re.compile(r"(.*?)\s*\b(\d+(?:[.,]\d+)?)\s*\Z")


@dataclass(frozen=True)
class Offer:
    """One thing to choose: its key, title, words, what is given back, the heading it stands under, more words that find it."""

    key: str
    title: str
    words: str
    payload: Any
    heading: str = ""
    search: str = ""

    @cached_property
    def _found_by(self) -> list[str]:
        return f"{self.title} {self.words} {self.search} {self.heading}".lower().split()

    def fits(self, typed: str) -> bool:
        """Tell whether every word that is typed begins a word of it."""
        return all(any(one.startswith(word) for one in self._found_by) for word in typed.lower().split())


class PictureTile(QAbstractButton):
    """One offer with its picture and its words, which are never cut off."""

    def __init__(self, offer: Offer, size: QSize) -> None:
        super().__init__()
        self.offer = offer
        self.picture: QImage | None = None
        self.problem = ""
        self.setAccessibleName(f"{offer.title}: {offer.words}" if offer.words else offer.title)
        self.setToolTip(offer.words)
        self.box = size
        self.setFixedSize(size.width(), size.height() + self.caption_height())
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def caption_height(self) -> int:
        """Height of title and words, in px."""
        metrics = QFontMetrics(self.font())
        room = QRect(0, 0, self.box.width() - 2 * EDGE, 10_000)
        words = (
            metrics.boundingRect(room, int(Qt.TextFlag.TextWordWrap), _short(self.offer.words)).height() if self.offer.words else 0
        )
        return metrics.height() + 8 + words

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        strong = self.hasFocus()
        painter.setPen(QPen(colour("ver" if strong else "line"), 2 if strong else 1))
        painter.setBrush(colour("hover" if self.underMouse() else "card"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        box = QRectF(EDGE, EDGE, self.width() - 2 * EDGE, self.box.height() - EDGE)
        painter.fillRect(box, colour("field"))
        if self.problem:
            self._paint_problem(painter, box)
        elif self.picture is not None:
            painter.drawImage(box, self.picture, _middle_of(self.picture, box))
        painter.setPen(QPen(colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        bold = QFont(self.font())
        bold.setBold(True)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        wide, top = self.width() - 2 * EDGE, int(box.bottom()) + 4
        tall = QFontMetrics(bold).height()
        painter.drawText(QRect(EDGE, top, wide, tall), Qt.AlignmentFlag.AlignVCenter, self.offer.title)
        painter.setFont(self.font())
        painter.setPen(colour("text2"))
        flags = int(Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
        painter.drawText(QRect(EDGE, top + tall, wide, self.height() - top - tall), flags, _short(self.offer.words))
        painter.end()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        chooser = self.window()
        if event.key() in ARROWS and isinstance(chooser, PictureChooser):  # else they go to the next button, or scroll
            chooser.keyPressEvent(event)
        else:
            super().keyPressEvent(event)

    def _paint_problem(self, painter: QPainter, box: QRectF) -> None:
        painter.setPen(colour("text2"))
        flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        small = QFont(self.font())
        small.setPixelSize(round(QFontInfo(small).pixelSize() * SMALL))
        painter.setFont(small)
        painter.drawText(box.adjusted(4, 2, -4, -2), flags, self.problem)


def _middle_of(picture: QImage, box: QRectF) -> QRectF:
    """The middle of a picture that has the shape of a box."""
    scale = min(picture.width() / box.width(), picture.height() / box.height())
    wide, high = box.width() * scale, box.height() * scale
    return QRectF((picture.width() - wide) / 2, (picture.height() - high) / 2, wide, high)


def _short(words: str) -> str:
    return words.split(";")[0].split(":")[0].rstrip(".")


class PictureChooser(Dialog):
    """Choose one of several offers; `chosen` carries its payload, `number` what was typed behind its name."""

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
        room = parent.window().size()
        self.pictures, self.number = pictures, None  # type: tuple[Pictures, float | None]
        self.across = max(2, min(across, (room.width() - 2 * 32) // (size.width() + 8)))
        self.line = QLineEdit()
        self.line.setPlaceholderText("type to find")
        self.line.setAccessibleName("Find among these")
        self.line.setClearButtonEnabled(True)
        self.line.setFixedWidth(px(200))
        self.line.textChanged.connect(self._lay_out)
        self.line.textChanged.connect(lambda _: QTimer.singleShot(0, self, self._seen_first))  # when they have their places
        self.tiles: dict[str, PictureTile] = {}
        for offer in offers:
            tile = self.tiles[offer.key] = tiles(offer, size)
            tile.clicked.connect(lambda _=False, offer=offer: self._take(offer))
        tallest = max(tile.height() for tile in self.tiles.values())
        self.inside = QWidget()
        self.grid = QGridLayout(self.inside)
        self.grid.setSpacing(8)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.headings: list[QLabel] = []
        for tile in self.tiles.values():
            tile.setFixedHeight(tallest)
        self._build(words)
        self._lay_out("")
        whole, most = self.inside.sizeHint(), room.height() - ROUND
        self.area.setFixedSize(whole.width() + (SCROLL_WIDE if whole.height() > most else 0), min(whole.height(), most))
        pictures.made.connect(self._made)
        pictures.refused.connect(self.show_problem)

    def _build(self, words: str) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(12)
        head = Words(words)
        head.setObjectName("bold")
        top = QHBoxLayout()
        top.addWidget(head, 1)
        top.addWidget(self.line)
        column.addLayout(top)
        self.area = QScrollArea()
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidgetResizable(True)
        self.area.setWidget(self.inside)
        self.area.verticalScrollBar().valueChanged.connect(self._seen_first)
        column.addWidget(self.area)

    def _seen_first(self) -> None:
        """Ask for the pictures of what is seen before those of the others."""
        page = self.area.viewport()
        seen = [tile for tile in self._fitting if page.rect().intersects(QRect(tile.mapTo(page, QPoint()), tile.size()))]
        self.pictures.first(tile.offer.key for tile in seen)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        QTimer.singleShot(0, self, self._focus_first)

    def _focus_first(self) -> None:
        if not self.line.text():
            next(iter(self.tiles.values())).setFocus(Qt.FocusReason.OtherFocusReason)

    def shown(self) -> list[PictureTile]:
        """Return the tiles that fit what is typed, in order; all while nothing is."""
        words, self.number = self.line.text().strip().lower(), None
        fitting = [tile for tile in self.tiles.values() if tile.offer.fits(words)]
        parts = _NUMBER.match(words)
        if not fitting and parts is not None:
            words, self.number = parts[1], float(parts[2].replace(",", "."))
            fitting = [tile for tile in self.tiles.values() if tile.offer.fits(words)]
        return sorted(fitting, key=lambda tile: not tile.offer.title.lower().startswith(words))

    def _lay_out(self, words: str) -> None:
        """Put the tiles that fit into the grid, each family under its heading while nothing is typed."""
        for label in self.headings:
            label.deleteLater()
        self.headings = []
        self._fitting = shown = self.shown()
        row, column, heading = -1, self.across, ""
        for tile in self.tiles.values():
            self.grid.removeWidget(tile)
            tile.setVisible(tile in shown)
        for tile in shown:
            if tile.offer.heading != heading and not words.strip():
                heading, row, column = tile.offer.heading, row + 1, self.across
                label = Words(heading)
                label.setObjectName("small")
                self.headings.append(label)
                self.grid.addWidget(label, row, 0, 1, self.across)
            if column >= self.across:
                row, column = row + 1, 0
            self.grid.addWidget(tile, row, column, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
            column += 1
        self.grid.setRowStretch(self.grid.rowCount(), 1)
        self.grid.setColumnStretch(self.across, 1)
        if not shown:
            nothing = Words(f"Nothing here is called “{words.strip()}”.")
            self.headings.append(nothing)
            self.grid.addWidget(nothing, 0, 0, 1, self.across)

    def _made(self, key: str, picture: QImage) -> None:
        if key in self.tiles:
            self.tiles[key].picture = picture
            self.tiles[key].update()

    def show_problem(self, key: str, sentence: str) -> None:
        """Say why something could not act here."""
        tile = self.tiles.get(key)
        if tile is not None:
            tile.problem = sentence[:1].upper() + sentence[1:]
            tile.setAccessibleDescription(tile.problem)
            tile.update()

    def _take(self, offer: Offer) -> None:
        self.accept()
        self.chosen.emit(offer.payload)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, shown = Qt.Key(event.key()), self.shown()
        focused = next((tile for tile in shown if tile.hasFocus()), None)
        if key in ARROWS and shown:
            self._go(self._next(shown, focused, key))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if shown:
                (focused or shown[0]).click()
        elif focused is not None and ((event.text().isprintable() and event.text().strip()) or key == Qt.Key.Key_Backspace):
            self.line.setFocus(Qt.FocusReason.OtherFocusReason)
            self.line.setText(self.line.text()[:-1] if key == Qt.Key.Key_Backspace else self.line.text() + event.text())
        else:
            super().keyPressEvent(event)

    def _go(self, tile: PictureTile) -> None:
        tile.setFocus(Qt.FocusReason.OtherFocusReason)
        self.area.ensureWidgetVisible(tile)

    @staticmethod
    def _next(shown: list[PictureTile], focused: PictureTile | None, key: Qt.Key) -> PictureTile:
        """The tile that lies in the direction of an arrow key from the focused one; that one where there is none."""
        if focused is None:
            return shown[0]
        at = shown.index(focused)
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            return shown[min(max(at + (1 if key == Qt.Key.Key_Right else -1), 0), len(shown) - 1)]
        down = 1 if key == Qt.Key.Key_Down else -1
        beyond = [tile for tile in shown if (tile.y() - focused.y()) * down > 0]
        return min(beyond, key=lambda tile: (abs(tile.y() - focused.y()), abs(tile.x() - focused.x())), default=focused)

    def done(self, result: int) -> None:
        self.pictures.made.disconnect(self._made)
        self.pictures.refused.disconnect(self.show_problem)
        self.pictures.drop()
        super().done(result)
