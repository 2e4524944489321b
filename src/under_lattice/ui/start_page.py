"""The first page: the pattern book, recent works and blank starts by family."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QImage, QKeyEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QAbstractButton,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from under_lattice.demos import DEMOS, STARTS, blank, demo
from under_lattice.output.recipe import open_any
from under_lattice.ui.card import FORMS
from under_lattice.ui.dials.row import QuietCombo
from under_lattice.ui.engine import picture_of
from under_lattice.ui.layouts import emptied
from under_lattice.ui.pictures import Pictures
from under_lattice.ui.recent import recent_works
from under_lattice.ui.strip import Mark
from under_lattice.ui.thread import chain_bead, draw_thread, round_bead, straight
from under_lattice.ui.tokens import colour
from under_lattice.work.edits import presets
from under_lattice.work.evaluate import evaluate
from under_lattice.work.model import Design, Sheet, Work

ACROSS = 4
PICTURE = QSize(212, 248)


@dataclass
class Leaf:
    """A leaf of the book: a demo work, or a recent file that is read when its picture is made."""

    key: str
    name: str
    work: Work | None = None
    path: Path | None = None
    count: int = 0

    @property
    def line(self) -> str:
        """What it is made of."""
        return made_of(self.work.design) if self.work is not None else ""


class StartLine(QAbstractButton):
    """A blank start on the thread, drawn as bones."""

    def __init__(self, title: str, words: str) -> None:
        super().__init__()
        self.title, self.words, self.picture = title, words, None  # type: tuple[str, str, QImage | None]
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(f"{title}: {words}")
        self.setFixedHeight(60)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

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
        painter.drawText(QRectF(96, middle - 19, self.width() - 100, 19), Qt.AlignmentFlag.AlignVCenter, self.title)
        painter.setFont(self.font())
        painter.setPen(colour("text2"))
        painter.drawText(QRectF(96, middle, self.width() - 100, 19), Qt.AlignmentFlag.AlignVCenter, self.words)
        if self.hasFocus():
            painter.setPen(QPen(colour("text"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(25, 4, self.width() - 30, self.height() - 8), 3, 3)
        painter.end()


class LeafTile(QAbstractButton):
    """A leaf with its picture, its name and what it is made of; a double click opens it."""

    opened = Signal()

    def __init__(self, leaf: Leaf) -> None:
        super().__init__()
        self.leaf, self.picture = leaf, None  # type: tuple[Leaf, QImage | None]
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(f"{leaf.name}: {leaf.line}")
        self.setToolTip(str(leaf.path) if leaf.path else leaf.name)
        self.setFixedSize(PICTURE.width(), PICTURE.height() + 50)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        box = QRectF(4, 4, self.width() - 8, PICTURE.height() - 8)
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
        small.setPixelSize(12)
        top, wide = PICTURE.height() + 4, self.width() - 8
        painter.setFont(small)
        painter.setPen(colour("text2"))
        words = f"{self.leaf.count} in all" if self.leaf.count else ""
        painter.drawText(QRect(4, top, wide, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        room = wide - painter.fontMetrics().horizontalAdvance(words) - 8
        line = painter.fontMetrics().elidedText(self.leaf.line, Qt.TextElideMode.ElideRight, wide)
        painter.drawText(QRect(4, top + 18, wide, 18), Qt.AlignmentFlag.AlignVCenter, line)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        name = painter.fontMetrics().elidedText(self.leaf.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRect(4, top, room, 18), Qt.AlignmentFlag.AlignVCenter, name)
        painter.end()

    def mouseDoubleClickEvent(self, event: object) -> None:
        self.opened.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        else:
            super().keyPressEvent(event)


def made_of(design: Design) -> str:
    """Return the rules of the layer with the longest chain, in words."""
    chains = design.chains()
    if not chains:
        return "no layers"
    longest = max(chains, key=lambda chain: len(chain.rules))
    motif = longest.rules[0].key_line("").split(",")[0]
    return ", ".join([motif, *(rule.shown_name().lower() for rule in longest.rules[1:] if rule.kind != "ink")])


class ChainLine(QWidget):
    """The chain of the chosen leaf as beads with their names."""

    def __init__(self) -> None:
        super().__init__()
        self.design: Design | None = None
        self.setFixedHeight(56)
        self.setMinimumWidth(420)

    def show_design(self, design: Design | None) -> None:
        """Show the longest chain of a design."""
        self.design = design
        self.setAccessibleName(f"Chain: {made_of(design)}" if design is not None else "Chain")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.design is None or not self.design.chains():
            return
        chain = max(self.design.chains(), key=lambda one: len(one.rules))
        rules = [*chain.rules, chain.end]
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        small = QFont(self.font())
        small.setPixelSize(12)
        painter.setFont(small)
        step = min(92.0, (self.width() - 60) / max(1, len(rules) - 1))
        path = QPainterPath(QPointF(40, 18))
        path.lineTo(40 + step * (len(rules) - 1), 18)
        draw_thread(painter, path)
        for k, rule in enumerate(rules):
            at = QPointF(40 + step * k, 18)
            form = "weight" if rule is chain.end else FORMS[rule.family]
            chain_bead(painter, form, at, True)
            painter.setPen(colour("text2"))
            words = painter.fontMetrics().elidedText(rule.shown_name(), Qt.TextElideMode.ElideRight, int(step) - 4)
            painter.drawText(QRectF(at.x() - step / 2, 32, step, 18), Qt.AlignmentFlag.AlignCenter, words)
        painter.end()


class StartPage(QWidget):
    """Blank starts at the left, the book at the right."""

    opened = Signal(object, object)  # work, path or None
    open_wanted = Signal()

    def __init__(self, pictures: Pictures) -> None:
        super().__init__()
        self.pictures = pictures
        self.setObjectName("start")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.tiles: dict[str, LeafTile] = {}
        self.starts: dict[str, StartLine] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left())
        row.addWidget(self._right(), 1)
        pictures.made.connect(self._made)

    # -- blank starts ----------------------------------------------------------------------------
    def _left(self) -> QWidget:
        left = QWidget()
        left.setObjectName("chain")
        left.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        left.setFixedWidth(320)
        column = QVBoxLayout(left)
        column.setContentsMargins(20, 24, 14, 20)
        column.setSpacing(0)
        head = QHBoxLayout()
        head.setSpacing(14)
        head.addWidget(Mark(40))
        names = QVBoxLayout()
        names.setSpacing(0)
        title, words = QLabel("Under Lattice"), QLabel("one shape, a few rules")
        title.setObjectName("title")
        words.setObjectName("quiet")
        names.addWidget(title)
        names.addWidget(words)
        head.addLayout(names, 1)
        column.addLayout(head)
        column.addSpacing(30)
        label = QLabel("Start from an empty sheet")
        label.setObjectName("bold")
        column.addWidget(label)
        column.addSpacing(8)
        for key, start in STARTS.items():
            line = StartLine(start.title, start.words)
            line.clicked.connect(self._show_start)
            self.starts[key] = line
            column.addWidget(line)
        self.starts["hexagons"].setChecked(True)
        column.addSpacing(16)
        size = QHBoxLayout()
        label = QLabel("Sheet")
        label.setFixedWidth(52)
        size.addWidget(label)
        self.sheet = QuietCombo("Sheet")
        self.sheet.addItems(list(presets()))
        self.sheet.setFixedHeight(26)
        size.addWidget(self.sheet, 1)
        column.addLayout(size)
        column.addSpacing(14)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        self.new, open_button = QPushButton(""), QPushButton("Open…")
        self.new.setObjectName("primary")
        self.new.clicked.connect(self._new)
        open_button.clicked.connect(self.open_wanted)
        for button in (self.new, open_button):
            button.setFixedHeight(32)
        buttons.addWidget(self.new, 3)
        buttons.addWidget(open_button, 2)
        column.addLayout(buttons)
        column.addStretch(1)
        hint = QLabel("A work, or an SVG or PNG that was exported with its recipe, can be dropped anywhere on this page.")
        hint.setObjectName("small")
        hint.setWordWrap(True)
        column.addWidget(hint)
        self._show_start()
        return left

    @property
    def chosen_start(self) -> str:
        """Key of the chosen blank start."""
        return next(key for key, line in self.starts.items() if line.isChecked())

    def _show_start(self) -> None:
        self.new.setText(STARTS[self.chosen_start].verb)

    def _new(self) -> None:
        sheet = presets()[self.sheet.currentText()]
        self.opened.emit(blank(self.chosen_start, Sheet.model_validate(sheet.model_dump())), None)

    # -- the book --------------------------------------------------------------------------------
    def _right(self) -> QWidget:
        right = QWidget()
        column = QVBoxLayout(right)
        column.setContentsMargins(24, 24, 24, 10)
        column.setSpacing(0)
        title = QLabel("Pattern book")
        title.setObjectName("title")
        self.words = QLabel("")
        self.words.setObjectName("quiet")
        column.addWidget(title)
        column.addWidget(self.words)
        column.addSpacing(16)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.body = QWidget()
        self.body.setObjectName("book")
        self.grid = QGridLayout(self.body)
        self.grid.setContentsMargins(0, 0, 0, 8)
        self.grid.setHorizontalSpacing(18)
        self.grid.setVerticalSpacing(12)
        self.area.setWidget(self.body)
        self.area.setObjectName("book")
        column.addWidget(self.area, 1)
        line = QWidget()
        line.setObjectName("rule")
        line.setFixedHeight(1)
        line.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column.addWidget(line)
        foot = QHBoxLayout()
        foot.setSpacing(12)
        self.chosen_name = QLabel("")
        self.chosen_name.setObjectName("bold")
        self.chosen_name.setFixedWidth(130)
        self.chain_line = ChainLine()
        self.open_leaf = QPushButton("Open this sheet")
        self.open_leaf.setObjectName("primary")
        self.open_leaf.setFixedHeight(32)
        self.open_leaf.clicked.connect(self._open_leaf)
        foot.addWidget(self.chosen_name)
        foot.addWidget(self.chain_line, 1)
        foot.addWidget(self.open_leaf)
        column.addLayout(foot)
        return right

    def refresh(self) -> None:
        """Lay out the leaves anew and ask for their pictures."""
        emptied(self.grid)
        self.tiles = {}
        works = {name: demo(name) for name in DEMOS}
        leaves = [Leaf(f"demo:{name}", work.design.name, work) for name, work in works.items()]
        recent = [Leaf(f"file:{path}", path.stem, None, path) for path in recent_works()]
        lately = f" {len(recent)} opened lately stand first." if recent else ""
        self.words.setText(
            f"Tern Harbour Bathhouse: {len(leaves)} working sheets. Open one and pull at its numbers; the book stays.{lately}"
        )
        place = 0
        for leaf in (*recent, *leaves):
            tile = LeafTile(leaf)
            tile.clicked.connect(lambda _=False, leaf=leaf: self._choose(leaf))
            tile.opened.connect(lambda leaf=leaf: self.opened.emit(leaf.work, leaf.path))
            self.tiles[leaf.key] = tile
            self.grid.addWidget(tile, place // ACROSS, place % ACROSS, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
            place += 1
        self.grid.setColumnStretch(ACROSS, 1)
        self.grid.setRowStretch(place // ACROSS + 1, 1)
        first = next(iter(self.tiles.values()))
        first.setChecked(True)
        self._choose(first.leaf)
        self._want_pictures()

    def _want_pictures(self) -> None:
        self.pictures.drop()
        dense = max(1.0, self.devicePixelRatioF())
        for key in self.starts:
            ink = "#1C1C1C" if colour("text").lightness() < 128 else "#EDEDED"
            self.pictures.want(f"start:{key}", partial(start_picture, key, ink))
        for key, tile in self.tiles.items():
            size = (round((PICTURE.width() - 8) * dense), round((PICTURE.height() - 8) * dense))
            self.pictures.want(key, partial(leaf_picture, tile.leaf, size))

    def _made(self, key: str, picture: QImage) -> None:
        if key.startswith("start:"):
            line = self.starts[key.removeprefix("start:")]
            line.picture = picture
            line.update()
        elif key in self.tiles:
            tile = self.tiles[key]
            tile.picture = picture
            tile.setAccessibleName(f"{tile.leaf.name}, {tile.leaf.count} in all: {tile.leaf.line}")
            tile.update()
            if tile.isChecked():
                self._choose(tile.leaf)

    @property
    def chosen_leaf(self) -> Leaf:
        """The chosen leaf."""
        return next(tile.leaf for tile in self.tiles.values() if tile.isChecked())

    def _choose(self, leaf: Leaf) -> None:
        self.chosen_name.setText(leaf.name)
        self.chain_line.show_design(leaf.work.design if leaf.work is not None else None)

    def _open_leaf(self) -> None:
        leaf = self.chosen_leaf
        self.opened.emit(leaf.work, leaf.path)


def start_picture(key: str, ink: str) -> QImage:
    """Return a blank start as bones."""
    return picture_of(blank(key, Sheet(width=100, height=80), share=2.7).design, 200, 160, bones=ink)


def leaf_picture(leaf: Leaf, size: tuple[int, int]) -> QImage:
    """Return the picture of a leaf; reads a recent file and counts its copies on the way.

    Raises
    ------
    LatticeError
    """
    if leaf.work is None and leaf.path is not None:
        leaf.work = open_any(leaf.path).work
        leaf.name = leaf.work.design.name
    assert leaf.work is not None
    results = evaluate(leaf.work.design).values()
    leaf.count = sum(result.last.stage.n for result in results if result.last is not None and result.last.stage is not None)
    return picture_of(leaf.work.design, *size)
