"""The first page: the pattern book, recent works and blank starts by family."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QResizeEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from under_lattice.declare.frozen import edited
from under_lattice.files.book import KINDS, BookLeaf, Shelved, leaves
from under_lattice.library import DEMOS, STARTS, blank, demo
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.mark import Mark
from under_lattice.ui.look.numerals import grouped
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import Words
from under_lattice.ui.panels.book_files import BookFiles
from under_lattice.ui.panels.start_tiles import PICTURE, ChainLine, Leaf, LeafTile, StartLine, leaf_picture, start_picture
from under_lattice.ui.state.recent import recent_works
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.work.model import Sheet, Work
from under_lattice.work.recipes import with_palette
from under_lattice.work.sheets import presets

GAP = 18  # px between two tiles
ALL, DEMO = "all leaves", "demo:"


class StartPage(QWidget):
    """Blank starts at the left, the book at the right."""

    opened = Signal(object, object)  # work, path or None
    open_wanted = Signal()
    own_wanted = Signal()  # a sheet begun with a drawing or picture of one's own

    def __init__(self, pictures: Pictures) -> None:
        super().__init__()
        self.pictures = pictures
        self.setObjectName("start")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.tiles: dict[str, LeafTile] = {}
        self.starts: dict[str, StartLine] = {}
        self.leaves: list[Leaf] = []
        self.problems: tuple[str, ...] = ()
        self._across = 0
        self.files = BookFiles(self)
        self.files.changed.connect(self.refresh)
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
        left.setFixedWidth(px(320))
        column = QVBoxLayout(left)
        column.setContentsMargins(20, 24, 14, 14)
        column.setSpacing(0)
        column.addLayout(self._head())
        column.addSpacing(12)
        label = Words("Start from an empty sheet")
        label.setObjectName("bold")
        column.addWidget(label)
        column.addSpacing(8)
        column.addWidget(self._starts(), 1)
        column.addSpacing(16)
        size = QHBoxLayout()
        label = Words("Sheet")
        label.setFixedWidth(px(52))
        size.addWidget(label)
        self.sheet = QuietCombo("Sheet")
        self.sheet.addItems(list(presets()))
        self.sheet.setFixedHeight(px(26))
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
            button.setFixedHeight(px(32))
        buttons.addWidget(self.new, 3)
        buttons.addWidget(open_button, 2)
        column.addLayout(buttons)
        column.addSpacing(14)
        hint = Words("A work, an SVG or a picture can be dropped anywhere on this page, or pasted: it begins a sheet.")
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
        area.setMinimumHeight(px(120))
        body.setObjectName("chain")
        body.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        lines = QVBoxLayout(body)
        lines.setContentsMargins(0, 0, 6, 0)
        lines.setSpacing(0)
        for key, start in STARTS.items():
            line = StartLine(start.title, start.words)
            line.clicked.connect(self._show_start)
            line.opened.connect(self._new)
            self.starts[key] = line
            lines.addWidget(line)
        own = StartLine("Your own shape", "an SVG or a picture")
        own.setCheckable(False)
        own.clicked.connect(self.own_wanted)
        own.opened.connect(self.own_wanted)
        lines.addWidget(own)
        self.own = own
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
        title, words = Words("Under Lattice"), Words("one shape, a few rules")
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

    def take_focus(self) -> None:
        """Put the focus on the chosen blank start, which Enter opens."""
        self.starts[self.chosen_start].setFocus(Qt.FocusReason.OtherFocusReason)

    def _show_start(self) -> None:
        self.new.setText(STARTS[self.chosen_start].verb)

    def _new(self) -> None:
        sheet = presets()[self.sheet.currentText()]
        self.opened.emit(blank(self.chosen_start, Sheet.model_validate(sheet.model_dump())), None)

    # -- the book --------------------------------------------------------------------------------
    def _right(self) -> QWidget:
        right = QWidget()
        right.setMinimumWidth(px(420))
        column = QVBoxLayout(right)
        column.setContentsMargins(24, 24, 24, 10)
        column.setSpacing(0)
        self.words = Words("")
        self.words.setObjectName("quiet")
        column.addLayout(self._book_head())
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
        self.grid.setHorizontalSpacing(GAP)
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
        self.chosen_name = Words("")
        self.chosen_name.setObjectName("bold")
        self.chosen_name.setFixedWidth(px(130))
        self.chain_line = ChainLine()
        self.open_leaf = QPushButton("Open this sheet")
        self.open_leaf.setObjectName("primary")
        self.open_leaf.setFixedHeight(px(32))
        self.open_leaf.clicked.connect(self._open_leaf)
        foot.addWidget(self.chosen_name)
        foot.addWidget(self.chain_line, 1)
        foot.addWidget(self.open_leaf)
        column.addLayout(foot)
        return right

    def _book_head(self) -> QHBoxLayout:
        """The title, and which leaves are shown."""
        title = Words("Pattern book")
        title.setObjectName("title")
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(title)
        head.addStretch(1)
        self.kinds, self.search = QuietCombo("Which leaves"), QLineEdit()
        self.kinds.addItems([ALL, *(f"{kind}s" for kind in KINDS)])
        self.kinds.activated.connect(lambda _: self._lay_leaves())
        self.search.setPlaceholderText("find by name or word")
        self.search.setAccessibleName("Find in the book")
        self.search.setFixedWidth(px(190))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _: self._lay_leaves())
        self.more = QPushButton("Book ▾")
        self.more.setToolTip("Bring leaves in, or put all of one's own into a folder")
        self.more.clicked.connect(self._book_menu)
        for part in (self.kinds, self.search, self.more):
            head.addWidget(part)
        return head

    def refresh(self) -> None:
        """Lay out the leaves anew and ask for their pictures; those of the person's own book come once they are read."""
        designs = {name: make() for name, make in DEMOS.items()}
        demos = [Leaf(f"{DEMO}{name}", design.name, Work(design=design)) for name, design in designs.items()]
        self.leaves = [*(Leaf(f"file:{path}", path.stem, None, path) for path in recent_works()), *demos]
        self._lay_leaves()
        background(self, leaves, self._read, lambda _: None)

    def _read(self, read: tuple[tuple[Shelved, ...], tuple[str, ...]]) -> None:
        """Take over the person's own leaves; what cannot be read is told."""
        own = [Leaf(f"own:{one.path}", one.leaf.name, one.leaf.work, own=one) for one in read[0]]
        self.leaves = [*own, *(one for one in self.leaves if one.own is None)]
        self.problems = read[1]
        if own or self.problems:
            self._lay_leaves()

    def _shown(self) -> list[Leaf]:
        """The leaves of the chosen kind that the words find."""
        wanted, text = self.kinds.currentText(), self.search.text()
        as_work = [BookLeaf(kind="work", name=one.name[:80] or "work", words=one.line[:400]) for one in self.leaves]
        listed = [one.own.leaf if one.own is not None else other for one, other in zip(self.leaves, as_work, strict=True)]
        pairs = zip(self.leaves, listed, strict=True)
        return [one for one, leaf in pairs if wanted in (ALL, f"{leaf.kind}s") and leaf.found_by(text)]

    def _lay_leaves(self) -> None:
        emptied(self.grid)
        self.tiles = {}
        shown, own = self._shown(), sum(one.own is not None for one in self.leaves)
        lately = sum(one.path is not None for one in self.leaves)
        said = [f"{own} of your own" if own else "", f"{lately} opened lately" if lately else ""]
        said.append(f"{len(DEMOS)} working sheets of the Tern Harbour Bathhouse")
        self.words.setText(f"{', '.join(filter(None, said))}. Open one and pull at its numbers; the book stays.")
        if self.problems:
            self.words.setText(f"Passed over: {'; '.join(self.problems[:3])}{' …' if len(self.problems) > 3 else ''}")
        for leaf in shown:
            tile = LeafTile(leaf)
            tile.clicked.connect(lambda _=False, leaf=leaf: self._choose(leaf))
            tile.opened.connect(lambda leaf=leaf: self._open(leaf))
            tile.menu_wanted.connect(lambda where, leaf=leaf: self._leaf_menu(leaf, where))
            self.tiles[leaf.key] = tile
        self._across = 0
        self._reflow()
        first = next(iter(self.tiles.values()), None)
        self.open_leaf.setEnabled(first is not None)
        if first is not None:
            first.setChecked(True)
            self._choose(first.leaf)
        self._want_pictures()

    def columns(self) -> int:
        """Return how many tiles stand side by side in the room there is."""
        return max(1, (self.area.viewport().width() + GAP) // (PICTURE.width() + GAP))

    def _reflow(self) -> None:
        """Lay the tiles in as many columns as there is room for."""
        across = self.columns()
        if across == self._across:
            return
        self.grid.setColumnStretch(self._across, 0)
        self.grid.setRowStretch(self.grid.rowCount(), 0)
        self._across = across
        for place, tile in enumerate(self.tiles.values()):
            self.grid.addWidget(tile, place // across, place % across, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        self.grid.setColumnStretch(across, 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        QTimer.singleShot(0, self, self._reflow)  # once the column has its new width

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
            tile.setAccessibleName(f"{tile.leaf.name}, {grouped(tile.leaf.count)} in all: {tile.leaf.line}")
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
        self._open(self.chosen_leaf)

    def _open(self, leaf: Leaf) -> None:
        """Open a leaf as a work; a palette lies on a fresh sheet."""
        if leaf.own is not None and leaf.own.leaf.colours:
            work = blank("hexagons")
            design = with_palette(work.design, work.design.layers[0].id, leaf.own.leaf.colours)
            self.opened.emit(edited(work, design=design), None)
        elif leaf.key.startswith(DEMO):
            self.opened.emit(demo(leaf.key.removeprefix(DEMO)), None)
        else:
            self.opened.emit(leaf.work, leaf.path)

    def _leaf_menu(self, leaf: Leaf, where: QPoint) -> None:
        menu = PopupMenu(self)
        menu.addAction("Open", partial(self._open, leaf))
        if leaf.own is not None:
            self.files.leaf_menu(menu, leaf.own)
        menu.popup(where)

    def _book_menu(self) -> None:
        menu = PopupMenu(self)
        self.files.book_menu(menu, tuple(one.own for one in self.leaves if one.own is not None))
        menu.popup(self.more.mapToGlobal(QPoint(0, self.more.height())))
