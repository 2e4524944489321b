"""What stands on the first page: blank starts, leaves of the book, the chain of the chosen leaf."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QByteArray, QMimeData, QPointF, QRect, QRectF, QSize, Qt, QUrl, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QDrag,
    QFont,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
)
from PySide6.QtWidgets import QAbstractButton, QWidget

from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.cache import SHARED
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.book import Shelved
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import to_text
from under_lattice.library import STARTS, blank
from under_lattice.ui.look.numerals import grouped
from under_lattice.ui.look.thread import chain_bead, draw_thread, round_bead, straight
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import tip
from under_lattice.ui.panels.card import FORMS
from under_lattice.ui.workers.picture_cache import kept_picture
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet, Work

PICTURE = QSize(212, 212)  # the whole sheet stands within it
COUNT = "copies"  # the key under which a picture says how many there are


@dataclass
class Leaf:
    """A leaf of the book: a demo work, one of the person's own, or a recent file that is read when its picture is made."""

    key: str
    name: str
    work: Work | None = None
    path: Path | None = None
    count: int = 0
    own: Shelved | None = None

    @property
    def line(self) -> str:
        """What it is made of."""
        kind = f"{self.own.leaf.kind}: " if self.own is not None else ""
        if self.own is not None and self.own.leaf.colours:
            return f"{kind}{len(self.own.leaf.colours)} colours"
        return kind + (made_of(self.work.design) if self.work is not None else "")


class StartLine(QAbstractButton):
    """A blank start on the thread, drawn as bones; Enter or a double press opens it."""

    opened = Signal()

    def __init__(self, title: str, words: str) -> None:
        super().__init__()
        self.title, self.words, self.picture = title, words, None  # type: tuple[str, str, QImage | None]
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(f"{title}: {words}")
        self.setFixedHeight(px(60))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            self.opened.emit()
        else:
            super().keyPressEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.opened.emit()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        on, middle = self.isChecked(), self.height() / 2
        if on:
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(colour("tint"))
            painter.drawRoundedRect(QRectF(22, 1, self.width() - 24, self.height() - 2), 4, 4)
            draw_thread(painter, straight(9, middle, 22, middle))
        elif self.underMouse():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour("hover"))
            painter.drawRoundedRect(QRectF(22, 1, self.width() - 24, self.height() - 2), 4, 4)
        draw_thread(painter, straight(9, 0, 9, self.height()))
        round_bead(painter, QPointF(9, middle), 6, on, None, colour("panel"))
        if self.picture is not None:
            painter.drawImage(QRectF(32, middle - 20, 50, 40), self.picture)
        bold = QFont(self.font())
        bold.setBold(True)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        painter.drawText(QRectF(96, middle - px(19), self.width() - 100, px(19)), Qt.AlignmentFlag.AlignVCenter, self.title)
        painter.setFont(self.font())
        painter.setPen(colour("text2"))
        painter.drawText(QRectF(96, middle, self.width() - 100, px(19)), Qt.AlignmentFlag.AlignVCenter, self.words)
        if self.hasFocus():
            painter.setPen(QPen(colour("text"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(25, 4, self.width() - 30, self.height() - 8), 3, 3)
        painter.end()


class LeafTile(QAbstractButton):
    """A leaf with its picture, its name and what it is made of; a double click opens it."""

    opened = Signal()
    menu_wanted = Signal(object)

    def __init__(self, leaf: Leaf) -> None:
        super().__init__()
        self.leaf, self.picture = leaf, None  # type: tuple[Leaf, QImage | None]
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(f"{leaf.name}: {leaf.line}")
        self.setToolTip(tip(str(leaf.path) if leaf.path else leaf.name))
        self.setFixedSize(PICTURE.width(), PICTURE.height() + px(50))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def _sheet_box(self) -> QRectF:
        """Where the picture lies: as the sheet is proportioned, standing on the line of its name."""
        wide, high = PICTURE.width() - 8.0, PICTURE.height() - 8.0
        if self.picture is None:
            return QRectF(4, 4, wide, high)
        scale = min(wide / self.picture.width(), high / self.picture.height())
        across, down = self.picture.width() * scale, self.picture.height() * scale
        return QRectF(4, 4 + high - down, across, down)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        box = self._sheet_box()
        painter.fillRect(box, colour("panel"))
        if self.picture is not None:
            painter.drawImage(box, self.picture)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour("edge"), 1))
        painter.drawRect(box)
        if self.isChecked() or self.underMouse():
            painter.setPen(QPen(colour("ver" if self.isChecked() else "text"), 3 if self.isChecked() else 2))
            painter.drawRect(box.adjusted(-2, -2, 2, 2))
        if self.hasFocus():
            painter.setPen(QPen(colour("tag"), 2))
            painter.drawRect(box.adjusted(2, 2, -2, -2))
        bold = QFont(self.font())
        bold.setBold(True)
        small = QFont(self.font())
        small.setPixelSize(px(12))
        top, wide = PICTURE.height() + 4, self.width() - 8
        painter.setFont(small)
        painter.setPen(colour("text2"))
        words = f"{grouped(self.leaf.count)} in all" if self.leaf.count else ""
        painter.drawText(QRect(4, top, wide, px(18)), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        room = wide - painter.fontMetrics().horizontalAdvance(words) - 8
        line = painter.fontMetrics().elidedText(self.leaf.line, Qt.TextElideMode.ElideRight, wide)
        painter.drawText(QRect(4, top + px(18), wide, px(18)), Qt.AlignmentFlag.AlignVCenter, line)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        name = painter.fontMetrics().elidedText(self.leaf.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRect(4, top, room, px(18)), Qt.AlignmentFlag.AlignVCenter, name)
        painter.end()

    def mouseDoubleClickEvent(self, event: object) -> None:
        self.opened.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag a leaf of one's own out, as its file."""
        outside = not self.rect().contains(event.position().toPoint())
        if event.buttons() & Qt.MouseButton.LeftButton and outside and self.leaf.own is not None:
            drag, data = QDrag(self), QMimeData()
            data.setUrls([QUrl.fromLocalFile(str(self.leaf.own.path))])
            drag.setMimeData(data)
            if self.picture is not None:
                drag.setPixmap(QPixmap.fromImage(self.picture.scaledToWidth(96)))
            self.setDown(False)
            drag.exec(Qt.DropAction.CopyAction)
        else:
            super().mouseMoveEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        else:
            super().keyPressEvent(event)


def opened_on(design: Design) -> Chain | None:
    """Return the chain a work opens on: the one it is told to, or else the longest."""
    chains = design.chains()
    return next((one for one in chains if one.id == design.main), max(chains, key=lambda chain: len(chain.rules), default=None))


def made_of(design: Design) -> str:
    """Return the rules of the layer it opens on, in words."""
    chains = design.chains()
    if not chains:
        return "no layers"
    longest = opened_on(design)
    assert longest is not None
    motif = longest.rules[0].key_line("").split(",")[0]
    return ", ".join([motif, *(rule.shown_name().lower() for rule in longest.rules[1:] if rule.kind != "ink")])


class ChainLine(QWidget):
    """The chain of the chosen leaf as beads with their names."""

    def __init__(self) -> None:
        super().__init__()
        self.design: Design | None = None
        self.setFixedHeight(px(56))
        self.setMinimumWidth(px(120))

    def show_design(self, design: Design | None) -> None:
        """Show the chain that a design opens on."""
        self.design = design
        self.setAccessibleName(f"Chain: {made_of(design)}" if design is not None else "Chain")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.design is None or not self.design.chains():
            return
        chain = opened_on(self.design)
        assert chain is not None
        rules = [*chain.rules, chain.end]
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        small = QFont(self.font())
        small.setPixelSize(px(12))
        painter.setFont(small)
        step = min(92.0, (self.width() - 60) / max(1, len(rules) - 1))
        path = QPainterPath(QPointF(40, 18))
        path.lineTo(40 + step * (len(rules) - 1), 18)
        draw_thread(painter, path)
        for k, rule in enumerate(rules):
            at = QPointF(40 + step * k, 18)
            form = FORMS[rule.family]
            chain_bead(painter, form, at, True)
            painter.setPen(colour("text2"))
            words = painter.fontMetrics().elidedText(rule.shown_name(), Qt.TextElideMode.ElideRight, int(step) - 4)
            painter.drawText(QRectF(at.x() - step / 2, 32, step, 18), Qt.AlignmentFlag.AlignCenter, words)
        painter.end()


def start_picture(key: str, ink: str, progress: Progress = QUIET) -> QImage:
    """Return a blank start as bones."""
    rules = STARTS[key].rules(1.0)
    share = 2.7 if rules and rules[-1].on_net else 9.0  # a lattice close up, a figure whole
    return picture_of(blank(key, Sheet(width=100, height=80), share=share).design, 200, 160, ink, progress=progress)


def stripes(colours: tuple[str, ...], size: tuple[int, int]) -> QImage:
    """Return a palette as stripes."""
    image = QImage(*size, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    for k, one in enumerate(colours):
        top, bottom = round(k * size[1] / len(colours)), round((k + 1) * size[1] / len(colours))
        painter.fillRect(0, top, size[0], bottom - top, QColor(one))
    painter.end()
    return image


def leaf_picture(leaf: Leaf, size: tuple[int, int], progress: Progress = QUIET) -> QImage:
    """Return the picture of a leaf; reads a recent file and counts its copies on the way.

    Raises
    ------
    LatticeError
    """
    if leaf.own is not None and leaf.own.leaf.colours:
        return stripes(leaf.own.leaf.colours, size)
    if leaf.own is not None and leaf.own.leaf.picture:
        stored = QImage.fromData(QByteArray.fromBase64(leaf.own.leaf.picture.encode()))
        if not stored.isNull():
            return stored
    if leaf.work is None and leaf.path is not None:
        leaf.work = open_any(leaf.path).work
        leaf.name = leaf.work.design.name
    assert leaf.work is not None
    design = leaf.work.design
    scale = min(size[0] / design.sheet.width, size[1] / design.sheet.height)
    whole = max(1, round(design.sheet.width * scale)), max(1, round(design.sheet.height * scale))
    image = kept_picture(f"{to_text(Work(design=design), None)} {whole}", lambda: _counted(design, whole, progress))
    leaf.count = int(image.text(COUNT) or 0)
    return image


def _counted(design: Design, size: tuple[int, int], progress: Progress) -> QImage:
    """The picture of a work, with how many copies the layer it opens on has: the number that its facts and cards say."""
    image, chain = picture_of(design, *size, progress=progress), opened_on(design)
    last = Evaluator(SHARED).design(design, progress)[chain.id].last if chain is not None else None
    image.setText(COUNT, str(last.stage.n if last is not None and last.stage is not None else 0))
    return image
