"""The layers of a work as a tree, where they are more than chips can name: picture, name, how each lies, seen, locked."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QEvent, QItemSelectionModel, QModelIndex, QPersistentModelIndex, QPoint, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QDropEvent, QIcon, QKeyEvent, QPainter, QPen, QPixmap
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from under_lattice.colour.blend import BLENDS, SPOKEN
from under_lattice.rules.base import describe
from under_lattice.ui.look.layouts import stands
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import Words, tip
from under_lattice.ui.panels.chips import WITH_NAMES, PlusChip
from under_lattice.ui.panels.several_bar import SeveralBar
from under_lattice.ui.state.desk import Desk
from under_lattice.work.layers import AnyLayer
from under_lattice.work.linking import linked_to

NAME, HOW, SEEN, LOCKED = range(4)
ROW, ROWS_MOST = 28, 9
ID = Qt.ItemDataRole.UserRole
KEYS: dict[tuple[Qt.Key, bool], str] = {  # with Ctrl or without
    (Qt.Key.Key_Space, False): "hide", (Qt.Key.Key_Delete, False): "remove", (Qt.Key.Key_Menu, False): "menu",
    (Qt.Key.Key_Up, True): "up", (Qt.Key.Key_Down, True): "down", (Qt.Key.Key_L, True): "lock",
}  # fmt: skip


class Rows(QTreeWidget):
    """The rows; what is done to them is told, and the work says what they are then."""

    dropped = Signal(str, int)  # the group the chosen rows come into, or nothing, and the place in it
    keyed = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Layers, the front one first")
        self.setColumnCount(4)
        self.setHeaderHidden(True)
        self.setUniformRowHeights(True)
        self.setIndentation(px(14))
        self.setIconSize(QSize(px(22), px(22)))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setEditTriggers(QAbstractItemView.EditTrigger.EditKeyPressed | QAbstractItemView.EditTrigger.DoubleClicked)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setItemDelegate(NameOnly(self))
        header = self.header()
        header.setStretchLastSection(False)
        header.setMinimumSectionSize(px(20))
        header.setSectionResizeMode(NAME, header.ResizeMode.Stretch)
        for column, wide in ((HOW, 96), (SEEN, 26), (LOCKED, 26)):
            header.setSectionResizeMode(column, header.ResizeMode.Fixed)
            header.resizeSection(column, px(wide))

    def dropEvent(self, event: QDropEvent) -> None:
        target = self.itemAt(event.position().toPoint())
        where = self.dropIndicatorPosition()
        event.setDropAction(Qt.DropAction.IgnoreAction)
        event.accept()
        if target is None:
            self.dropped.emit("", self.topLevelItemCount())
        elif where == QAbstractItemView.DropIndicatorPosition.OnItem and target.childCount():
            self.dropped.emit(target.data(NAME, ID), 0)
        else:
            parent = target.parent()
            at = parent.indexOfChild(target) if parent is not None else self.indexOfTopLevelItem(target)
            below = where != QAbstractItemView.DropIndicatorPosition.AboveItem
            self.dropped.emit(parent.data(NAME, ID) if parent is not None else "", at + below)

    def event(self, event: QEvent) -> bool:
        mine = isinstance(event, QKeyEvent) and (self._meant(event) or event.key() == Qt.Key.Key_F2)
        if event.type() == QEvent.Type.ShortcutOverride and mine:
            event.accept()  # the rows take it, not the window
            return True
        return super().event(event)

    def _meant(self, event: QKeyEvent) -> str:
        """What a key means for the chosen rows, in a word."""
        held = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        return KEYS.get((Qt.Key(event.key()), held), "")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        words = self._meant(event)
        if words and self.state() != QAbstractItemView.State.EditingState:
            self.keyed.emit(words)
        else:
            super().keyPressEvent(event)


class NameOnly(QStyledItemDelegate):
    """Names alone are typed over; rows are as high as a finger needs."""

    def createEditor(  # type: ignore[override]
        self, parent: QWidget, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> QWidget | None:
        return super().createEditor(parent, option, index) if index.column() == NAME else None

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(super().sizeHint(option, index).width(), px(ROW))


class LayerTree(QWidget):
    """Stands in place of the chips where there are more layers than these can name."""

    add_wanted = Signal(QPoint)
    menu_wanted = Signal(str, QPoint)
    moved = Signal(tuple, str, int)
    renamed = Signal(str, str)
    asked = Signal(str, tuple)  # hide, lock, up, down, remove, group; and the layers
    laid = Signal(tuple, dict)  # layers, and dials of their ends

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self._filling = desk, False
        self.items: dict[str, QTreeWidgetItem] = {}
        self._folded: set[str] = set()
        self._shown: dict[str, tuple[object, ...]] = {}  # of each layer, what its row shows
        for changed in (desk.document.changed, desk.looked.layer_changed, desk.found.changed, desk.looked.picture_changed):
            changed.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        """Make the parts; most works have fewer layers and need none."""
        whole = QVBoxLayout(self)
        whole.setContentsMargins(8, 6, 8, 0)
        whole.setSpacing(4)
        head = QHBoxLayout()
        self.count = Words("")
        self.count.setObjectName("small")
        plus = PlusChip()
        plus.setFixedSize(px(24), px(24))
        plus.clicked.connect(lambda: self.add_wanted.emit(plus.mapToGlobal(QPoint(0, plus.height()))))
        head.addWidget(self.count, 1)
        head.addWidget(plus)
        whole.addLayout(head)
        self.rows = Rows()
        self.bar = SeveralBar()
        whole.addWidget(self.rows)
        whole.addWidget(self.bar)
        self._connect()

    def _connect(self) -> None:
        self.rows.itemSelectionChanged.connect(self._chosen)
        self.rows.itemClicked.connect(self._pressed)
        self.rows.itemChanged.connect(self._typed)
        self.rows.itemExpanded.connect(lambda item: self._folded.discard(item.data(NAME, ID)))
        self.rows.itemCollapsed.connect(lambda item: self._folded.add(item.data(NAME, ID)))
        self.rows.dropped.connect(lambda group, at: self.moved.emit(self.picked(), group, at))
        self.rows.keyed.connect(self._keyed)
        self.rows.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.rows.customContextMenuRequested.connect(self._menu_at)
        self.bar.laid.connect(lambda changes: self.laid.emit(self.picked(), changes))
        self.bar.asked.connect(lambda what: self.asked.emit(what, self.picked()))

    def picked(self) -> tuple[str, ...]:
        """Return the ids of the chosen rows, front first."""
        return tuple(name for name, item in self.items.items() if item.isSelected())

    # -- what is shown ----------------------------------------------------------------------------
    def refresh(self) -> None:
        """Show the layers of the work, front first, members in their groups."""
        design = self.desk.document.design
        layers = design.all_layers()
        if not stands(self, len(layers) > WITH_NAMES):
            if self.items:
                self.rows.clear()
                self.items = {}
            return
        if self.layout() is None:
            self._lay_out()
        self._filling = True
        parents = design.tree.parents
        shape = [(one.id, parents[one.id].id if one.id in parents else "") for one in layers]
        if shape != [(name, _id_of(item.parent())) for name, item in self.items.items()]:
            self._build(layers, design.tree.parents)
        for layer in layers:
            self._show(layer)
        chosen = self.items.get(self.desk.looked.layer)
        if chosen is not None and not chosen.isSelected():
            self.rows.setCurrentItem(chosen)
        elif chosen is not None and self.rows.currentItem() is None:  # the rows were built anew
            self.rows.setCurrentItem(chosen, NAME, QItemSelectionModel.SelectionFlag.NoUpdate)
        self.count.setText(f"{sum(not layer.members for layer in design.all_layers())} layers, the front one first")
        self.rows.setFixedHeight(px(ROW) * min(len(layers), ROWS_MOST) + 4)
        self._filling = False
        self._show_bar()

    def _build(self, layers: tuple[AnyLayer, ...], parents: object) -> None:
        kept = set(self.picked())
        self.rows.clear()
        self.items, self._shown = {}, {}
        of: dict[str, AnyLayer] = dict(parents)  # type: ignore[call-overload]
        for layer in layers:
            above = self.items[of[layer.id].id] if layer.id in of else self.rows.invisibleRootItem()
            item = QTreeWidgetItem(above)
            item.setData(NAME, ID, layer.id)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            self.items[layer.id] = item
        for name, item in self.items.items():
            item.setExpanded(name not in self._folded)
            item.setSelected(name in kept)

    def _show(self, layer: AnyLayer) -> None:
        item, alone = self.items[layer.id], self.desk.looked.alone
        seen = not layer.hidden and (not alone or alone in {one.id for one in (*self._around(layer), *layer.walk())})
        picture = self.desk.found.layers.get(layer.id)
        now = (layer, seen, picture.cacheKey() if picture is not None else 0, colour("text").rgb())
        if self._shown.get(layer.id) == now:
            return
        self._shown[layer.id] = now
        item.setText(NAME, layer.name)
        if picture is not None:
            item.setIcon(NAME, QIcon(QPixmap.fromImage(picture)))
        how = "source" if layer.source_only else _how(layer)
        item.setText(HOW, how)
        item.setForeground(NAME, colour("text" if seen else "dis"))
        item.setForeground(HOW, colour("text2"))
        item.setIcon(SEEN, eye(seen))
        item.setIcon(LOCKED, padlock(layer.locked))
        for column, words, other, on in ((SEEN, "seen", "hidden", seen), (LOCKED, "locked", "free", layer.locked)):
            said = words if on else other
            item.setToolTip(column, tip(said))
            item.setData(column, Qt.ItemDataRole.AccessibleTextRole, said)
        item.setToolTip(NAME, tip(f"{layer.noun} {layer.name}, {how}".rstrip(", ")))

    def _around(self, layer: AnyLayer) -> Iterator[AnyLayer]:
        yield from self.desk.document.design.tree.around(layer.id)

    def _show_bar(self) -> None:
        several = [self.desk.document.design.layer(one) for one in self.picked() if one in self.desk.document.design.tree.by_id]
        self.bar.show_layers(several)

    # -- what is done ------------------------------------------------------------------------------
    def _chosen(self) -> None:
        if self._filling:
            return
        current = self.rows.currentItem()
        if current is not None and current.isSelected():
            self.desk.looked.layer = current.data(NAME, ID)
        self._show_bar()

    def _pressed(self, item: QTreeWidgetItem, column: int) -> None:
        what = {SEEN: "hide", LOCKED: "lock"}.get(column)
        if what:
            name = item.data(NAME, ID)
            self.asked.emit(what, self.picked() if name in self.picked() else (name,))

    def _typed(self, item: QTreeWidgetItem, column: int) -> None:
        if not self._filling and column == NAME:
            self.renamed.emit(item.data(NAME, ID), item.text(NAME))

    def _keyed(self, what: str) -> None:
        current = self.rows.currentItem()
        if what == "menu" and current is not None:
            self._menu_at(self.rows.visualItemRect(current).bottomLeft())
        elif self.picked():
            self.asked.emit(what, self.picked())

    def _menu_at(self, at: QPoint) -> None:
        item = self.rows.itemAt(at) or self.rows.currentItem()
        if item is not None:
            self.menu_wanted.emit(item.data(NAME, ID), self.rows.viewport().mapToGlobal(at))


def _id_of(item: QTreeWidgetItem | None) -> str:
    return item.data(NAME, ID) if item is not None else ""


def _how(layer: AnyLayer) -> str:
    """How a layer lies, in few words; nothing where it simply lies there."""
    end = layer.end
    blend = getattr(end, "blend", "normal")
    words = ["linked"] if linked_to(layer) else []
    words += [] if blend == "normal" else [SPOKEN[BLENDS.index(blend)]]
    opacity = getattr(end, "opacity", 100.0)
    return " ".join([*words, *([] if opacity == 100.0 else [describe(opacity, "%", 0)])])


def eye(on: bool) -> QIcon:
    """Return the sign of a layer that is seen, or is not."""

    def draw(painter: QPainter, box: QRectF, ink: QColor) -> None:
        painter.setPen(QPen(ink, 1.4))
        middle = box.center()
        painter.drawArc(QRectF(middle.x() - 7, middle.y() - 5, 14, 14), 30 * 16, 120 * 16)
        painter.drawArc(QRectF(middle.x() - 7, middle.y() - 9, 14, 14), 210 * 16, 120 * 16)
        if on:
            painter.setBrush(ink)
            painter.drawEllipse(middle, 2.2, 2.2)
        else:
            painter.drawLine(box.bottomLeft() + QPoint(3, -3), box.topRight() + QPoint(-3, 3))

    return _sign(draw, "text2" if on else "dis")


def padlock(on: bool) -> QIcon:
    """Return the sign of a layer that is locked; a faint one where it is free."""

    def draw(painter: QPainter, box: QRectF, ink: QColor) -> None:
        painter.setPen(QPen(ink, 1.4))
        middle = box.center()
        painter.drawArc(QRectF(middle.x() - 3.5 + (0 if on else 2), middle.y() - 7, 7, 9), 0, 180 * 16)
        if on:
            painter.setBrush(ink)
        painter.drawRect(QRectF(middle.x() - 5, middle.y() - 1.5, 10, 7))

    return _sign(draw, "ver" if on else "line")


def _sign(draw: object, ink: str) -> QIcon:
    pixels = QPixmap(2 * px(18), 2 * px(18))
    pixels.setDevicePixelRatio(2.0)
    pixels.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixels)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw(painter, QRectF(QRect(0, 0, px(18), px(18))), colour(ink))  # type: ignore[operator]
    painter.end()
    icon = QIcon()
    for mode in (QIcon.Mode.Normal, QIcon.Mode.Selected, QIcon.Mode.Disabled):
        icon.addPixmap(pixels, mode)
    return icon
