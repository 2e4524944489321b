"""The first page: the pattern book, recent works and blank starts by family."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from under_lattice.library import DEMOS, STARTS, blank, demo
from under_lattice.ui.dials.row import QuietCombo
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.panels.start_tiles import PICTURE, ChainLine, Leaf, LeafTile, StartLine, leaf_picture, start_picture
from under_lattice.ui.panels.strip import Mark
from under_lattice.ui.state.recent import recent_works
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.work.model import Sheet
from under_lattice.work.sheets import presets

ACROSS = 4


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
        column.setContentsMargins(20, 24, 14, 14)
        column.setSpacing(0)
        column.addLayout(self._head())
        column.addSpacing(12)
        label = QLabel("Start from an empty sheet")
        label.setObjectName("bold")
        column.addWidget(label)
        column.addSpacing(8)
        column.addWidget(self._starts(), 1)
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
        column.addSpacing(14)
        hint = QLabel("A work, or an SVG or PNG that was exported with its recipe, can be dropped anywhere on this page.")
        hint.setObjectName("small")
        hint.setWordWrap(True)
        column.addWidget(hint)
        self._show_start()
        return left

    def _starts(self) -> QScrollArea:
        """The blank starts, which scroll on a low screen."""
        area, body = QScrollArea(), QWidget()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setMinimumHeight(120)
        body.setObjectName("chain")
        body.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        lines = QVBoxLayout(body)
        lines.setContentsMargins(0, 0, 6, 0)
        lines.setSpacing(0)
        for key, start in STARTS.items():
            line = StartLine(start.title, start.words)
            line.clicked.connect(self._show_start)
            self.starts[key] = line
            lines.addWidget(line)
        lines.addStretch(1)
        self.starts["hexagons"].setChecked(True)
        area.setWidget(body)
        return area

    @staticmethod
    def _head() -> QHBoxLayout:
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
        return head

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
