"""Layer chips: the layers of the work, front first; picture, name and place."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect, QRectF, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QFont, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QApplication, QHBoxLayout, QScrollArea, QWidget

from under_lattice.ui.look.glyphs import draw_glyph
from under_lattice.ui.look.layouts import emptied, looks, stands
from under_lattice.ui.look.tokens import colour, px
from under_lattice.ui.look.words import tip
from under_lattice.ui.state.desk import Desk
from under_lattice.work.layers import AnyLayer
from under_lattice.work.reading import parent_of

WITH_NAMES = 3


class Chip(QAbstractButton):
    """One layer."""

    menu_wanted = Signal(QPoint)
    dragged = Signal(QPoint)
    key_moved = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.title, self.place = "", ""
        self.picture: QImage | None = None
        self.hidden_layer = self.locked = self.grouped = False
        self._from: QPoint | None = None
        self._dragging = False
        self.setFixedSize(px(88), px(44))
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        on = self.isChecked()
        painter.setPen(QPen(colour("ver" if on else "line"), 2 if on else 1))
        painter.setBrush(colour("hover" if self.underMouse() and not on else "card"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        box = QRectF(5, (self.height() - 30) / 2, 28, 30)
        painter.setOpacity(0.4 if self.hidden_layer else 1.0)
        painter.fillRect(box, colour("field"))
        if self.picture is not None:
            painter.drawImage(box, self.picture, QRectF(1, 0, 78, 80))
        painter.setOpacity(1.0)
        painter.setPen(QPen(colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        self._paint_words(painter)
        if self.grouped:  # a thread runs under what a group holds
            painter.setPen(QPen(colour("strong"), 2))
            painter.drawLine(4, self.height() - 3, self.width() - 4, self.height() - 3)
        if self.hasFocus():
            painter.setPen(QPen(colour("text"), 2))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(3, 3, -3, -3), 3, 3)
        painter.end()

    def _paint_words(self, painter: QPainter) -> None:
        bold, small = QFont(self.font()), QFont(self.font())
        bold.setBold(True)
        bold.setPixelSize(px(12))
        small.setPixelSize(px(12))
        painter.setFont(bold)
        painter.setPen(colour("dis" if self.hidden_layer else "text"))
        words = painter.fontMetrics().elidedText(self.title, Qt.TextElideMode.ElideRight, self.width() - 42)
        painter.drawText(QRect(38, px(6), self.width() - 42, px(17)), Qt.AlignmentFlag.AlignVCenter, words)
        painter.setFont(small)
        painter.setPen(colour("dis" if self.hidden_layer else "text2"))
        state = "hidden" if self.hidden_layer else "locked" if self.locked else self.place
        painter.drawText(QRect(38, px(22), self.width() - 42, px(17)), Qt.AlignmentFlag.AlignVCenter, state)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from, self._dragging = event.position().toPoint(), False
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None and event.buttons() & Qt.MouseButton.LeftButton:
            far = (event.position().toPoint() - self._from).manhattanLength()
            self._dragging = self._dragging or far > QApplication.startDragDistance()
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._from = None
        super().mouseReleaseEvent(event)
        if self._dragging:
            self._dragging = False
            self.dragged.emit(event.globalPosition().toPoint())

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        held = event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and held:
            self.key_moved.emit(-1 if event.key() == Qt.Key.Key_Left else 1)
        elif event.key() == Qt.Key.Key_Menu:
            self.menu_wanted.emit(self.mapToGlobal(QPoint(0, self.height())))
        else:
            super().keyPressEvent(event)


class PlusChip(QAbstractButton):
    """Adds a layer."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Add a layer")
        self.setToolTip("Add a layer")
        self.setFixedSize(px(24), px(44))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour("ver" if self.hasFocus() else "line"), 2 if self.hasFocus() else 1))
        painter.setBrush(colour("hover" if self.underMouse() else "card"))
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.drawRoundedRect(box, 4, 4)
        draw_glyph(painter, "plus", box.center(), colour("text"))
        painter.end()


class LayerChips(QWidget):
    """All chips in a row, as long as there are few layers; a tree stands in their place for more."""

    add_wanted = Signal(QPoint)
    menu_wanted = Signal(str, QPoint)
    moved = Signal(str, int)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        whole = QHBoxLayout(self)
        whole.setContentsMargins(8, 6, 8, 0)
        whole.setSpacing(4)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFixedHeight(px(46))
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.body = QWidget()
        self.body.setObjectName("scrolled")
        self.row = QHBoxLayout(self.body)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(4)
        self.area.setWidget(self.body)
        plus = PlusChip()
        plus.clicked.connect(lambda: self.add_wanted.emit(plus.mapToGlobal(QPoint(0, plus.height()))))
        whole.addWidget(self.area, 1)
        whole.addWidget(plus)
        self.chips: dict[str, Chip] = {}
        for changed in (desk.document.changed, desk.looked.layer_changed, desk.found.changed):
            changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the layers of the work, front first, a group before its members."""
        design, chosen, pictures = self.desk.document.design, self.desk.looked.layer, self.desk.found.layers
        layers = design.all_layers()
        if not stands(self, len(layers) <= WITH_NAMES):
            return
        if tuple(self.chips) != tuple(layer.id for layer in layers):
            self._build(layers)
        for k, layer in enumerate(layers):
            place = "only" if len(layers) == 1 else "front" if k == 0 else "back" if k == len(layers) - 1 else "middle"
            chip = self.chips[layer.id]
            chip.picture = pictures.get(layer.id, chip.picture)
            chip.setChecked(layer.id == chosen)
            self._show_state(chip, layer, parent_of(design, layer.id), place)
        if chosen in self.chips:
            self.area.ensureWidgetVisible(self.chips[chosen], 4, 0)

    @staticmethod
    def _show_state(chip: Chip, layer: AnyLayer, group: AnyLayer | None, place: str) -> None:
        """Show on a chip how its layer stands."""
        if layer.source_only or (group is not None and group.source_only):
            place = "source"
        elif layer.members:
            place = "group"
        elif group is not None:
            place = "inside"  # the thread under it and its tip say of what
        chip.title, chip.place, chip.locked = layer.name, place, layer.locked
        chip.hidden_layer = layer.hidden or (group is not None and group.hidden)
        chip.grouped = group is not None
        state = f" of {len(layer.members)}" if layer.members else ""
        state += (", hidden" if layer.hidden else "") + (", locked" if layer.locked else "")
        state += f", in group {group.name}" if group is not None else ""
        chip.setAccessibleName(f"{layer.noun.capitalize()} {layer.name}, {place}{state}")
        chip.setToolTip(tip(f"{layer.name}, {place}{state}"))
        looks(chip, chip.title, chip.place, chip.locked, chip.hidden_layer, chip.grouped, chip.picture)

    def _build(self, layers: tuple[AnyLayer, ...]) -> None:
        emptied(self.row)
        self.chips = {}
        for layer in layers:
            chip, name = Chip(), layer.id
            chip.clicked.connect(lambda _=False, n=name: self._choose(n))
            chip.menu_wanted.connect(lambda at, n=name: self.menu_wanted.emit(n, at))
            chip.dragged.connect(lambda at, n=name: self._drop(n, at))
            chip.key_moved.connect(lambda way, n=name: self.moved.emit(n, list(self.chips).index(n) + way))
            self.chips[name] = chip
            self.row.addWidget(chip)
        self.row.addStretch(1)

    def _choose(self, layer: str) -> None:
        self.desk.looked.layer = layer
        self.chips[layer].setChecked(True)  # pressing it once more does not let it go

    def _drop(self, name: str, at: QPoint) -> None:
        x = self.body.mapFromGlobal(at).x()
        place = sum(chip.geometry().center().x() < x for other, chip in self.chips.items() if other != name)
        if place != list(self.chips).index(name):
            self.moved.emit(name, place)
