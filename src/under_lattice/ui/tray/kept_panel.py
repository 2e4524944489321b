"""Kept versions in the tray: pictures with their names, dragged into order, compared, restored, mixed, exported."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QImage, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from under_lattice.core.units import short
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.words import Words, tip
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.state.looked_at import Instead
from under_lattice.ui.tray.tile import SIBLING, Tile
from under_lattice.ui.tray.times import said
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.work.model import Kept
from under_lattice.work.shelf import kept, moved, renamed, taken_off

COLUMNS, WIDE, HIGH = 3, 76, 52
LOOK_MS = 120
FORM = "application/x-under-lattice-kept"


class KeptTile(Tile):
    """One kept version; it can be dragged to another place. With Ctrl a press, or Space, takes it among those to export."""

    def __init__(self, one: Kept) -> None:
        super().__init__(WIDE, HIGH)
        self.kept = one
        self.carries = (FORM, one.id)

    def show_picture(self, picture: QImage | None) -> None:
        """Show a picture, or an empty place; all that can be done with a version can be done before it is painted."""
        super().show_picture(picture)
        self.setEnabled(True)

    def toggle_mark(self) -> None:
        """Take it among those to export, or out of them."""
        self.marked = not self.marked
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and event.button() == Qt.MouseButton.LeftButton:
            self.toggle_mark()
        else:
            super().mousePressEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.toggle_mark()
        else:
            super().keyPressEvent(event)


class KeptPanel(QWidget):
    """Below in the tray."""

    sibling_dropped = Signal(int)
    compare_wanted = Signal(object, str)  # Kept, how
    mix_wanted = Signal(object)
    export_wanted = Signal(object)  # tuple of Kept
    open_wanted = Signal(object)  # Kept, as a new work

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self.pictures = desk, Pictures(self)
        self.pictures.made.connect(self._made)
        self.tiles: dict[str, KeptTile] = {}
        self._seen: dict[str, tuple[object, QImage]] = {}
        self._looking = QTimer(self, singleShot=True, interval=LOOK_MS)
        self._looking.timeout.connect(self._look)
        self.setAcceptDrops(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 6, 8)
        column.setSpacing(4)
        head = QHBoxLayout()
        title, self.count = Words("Kept"), Words("")
        title.setObjectName("heading")
        self.count.setObjectName("small")
        self.keep_button = QPushButton("Keep now")
        self.keep_button.setToolTip("Put the work as it is on the shelf (Ctrl+K)")
        self.keep_button.clicked.connect(self.keep_now)
        head.addWidget(title)
        head.addWidget(self.count)
        head.addStretch(1)
        head.addWidget(self.keep_button)
        head.setContentsMargins(0, 0, 6, 0)
        column.addLayout(head)
        self.grid = QGridLayout()
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(6)
        self.grid.setVerticalSpacing(2)
        holder, scroll = QWidget(), QScrollArea()
        holder.setObjectName("scrolled")
        whole = QVBoxLayout(holder)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addLayout(self.grid)
        whole.addStretch(1)
        scroll.setWidget(holder)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(scroll, 1)
        desk.document.shelf_changed.connect(self.refresh)
        self.refresh()

    # -- showing ---------------------------------------------------------------------------------
    def refresh(self) -> None:
        """Show what is kept."""
        shelf = self.desk.document.work.kept
        focused = next((name for name, tile in self.tiles.items() if tile.hasFocus()), "")
        emptied(self.grid)
        self.tiles = {}
        self.count.setText("nothing yet" if not shelf else "1 version" if len(shelf) == 1 else f"{len(shelf)} versions")
        for k, one in enumerate(shelf):
            tile = self.tiles[one.id] = self._tile(one)
            name = Words(self.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, WIDE))
            name.setObjectName("small")
            sheet = one.design.sheet
            size = f"{short(sheet.width)} × {short(sheet.height)} {sheet.unit}"  # noqa: RUF001
            told = ", ".join(filter(None, (one.name, said(one.at), size)))
            for part in (name, tile):
                part.setToolTip(
                    tip(f"{told}\nPress to see it; double press to restore; Ctrl and press to take several; menu for more")
                )
            tile.setAccessibleName(f"Kept version {told}")
            row, across = divmod(k, COLUMNS)
            self.grid.addWidget(tile, 2 * row, across, Qt.AlignmentFlag.AlignLeft)
            self.grid.addWidget(name, 2 * row + 1, across)
        self.grid.setColumnStretch(COLUMNS, 1)
        if focused in self.tiles:
            self.tiles[focused].setFocus()

    def _tile(self, one: Kept) -> KeptTile:
        tile = KeptTile(one)
        known = self._seen.get(one.id)
        tile.show_picture(known[1] if known is not None and known[0] is one.design else None)
        if known is None or known[0] is not one.design:
            size = QSize(WIDE - 4, HIGH - 4) * self.devicePixelRatioF()
            self.pictures.want(one.id, partial(picture_of, one.design, size.width(), size.height()))
        tile.looked_at.connect(lambda _: self._looking.start())
        tile.taken.connect(partial(self.restore, one.id))
        tile.menu_wanted.connect(partial(self.open_menu, one.id))
        tile.key_pressed.connect(partial(self._key, one.id))
        return tile

    def _made(self, name: str, picture: QImage) -> None:
        tile = self.tiles.get(name)
        if tile is not None:
            self._seen[name] = (tile.kept.design, picture)
            tile.show_picture(picture)

    def _look(self) -> None:
        seen = next((tile for tile in self.tiles.values() if tile.seen), None)
        self.desk.looked.instead = Instead(seen.kept.design, f"kept: {seen.kept.name}") if seen is not None else None

    # -- doing -----------------------------------------------------------------------------------
    def keep_now(self) -> None:
        """Put the work as it is on the shelf, or what is looked at in its place."""
        instead = self.desk.looked.instead
        if instead is not None:
            self.desk.keep(instead.design, instead.words[:1].upper() + instead.words[1:])
        else:
            self.desk.keep(self.desk.document.design)

    def restore(self, name: str) -> None:
        """Go on from a kept version: one step of undo."""
        one = kept(self.desk.document.work.kept, name)
        self.desk.looked.instead = None
        self.desk.document.apply(f"Restore {one.name}", one.design, whole=True)

    def rename(self, name: str) -> None:
        """Ask for another name."""
        shelf = self.desk.document.work.kept
        text, taken = QInputDialog.getText(self, "Rename", "Name of the version", QLineEdit.EchoMode.Normal, kept(shelf, name).name)
        if taken:
            self.desk.document.reshelve("Rename a kept version", renamed(self.desk.document.work.kept, name, text))

    def remove(self, name: str) -> None:
        """Take a version off the shelf; undo brings it back."""
        shelf = self.desk.document.work.kept
        one = kept(shelf, name)
        self.desk.looked.instead = None
        self.desk.document.reshelve(f"Remove kept {one.name}", taken_off(shelf, name))
        self.desk.told.emit(f"{one.name} is off the shelf; undo brings it back")

    def put_at(self, name: str, to: int) -> None:
        """Put a version at another place."""
        self.desk.document.reshelve("Order of kept versions", moved(self.desk.document.work.kept, name, to))

    def open_menu(self, name: str, where: QPoint) -> None:
        """Offer what can be done with a version."""
        one, shelf = kept(self.desk.document.work.kept, name), self.desk.document.work.kept
        marked = tuple(tile.kept for tile in self.tiles.values() if tile.marked)
        menu = PopupMenu(self)
        acts: tuple[tuple[str, Callable[[], object]], ...] = (
            ("Restore", partial(self.restore, name)),
            ("Wipe against now", partial(self.compare_wanted.emit, one, "wipe")),
            ("Difference from now", partial(self.compare_wanted.emit, one, "difference")),
            ("Mix with now…", partial(self.mix_wanted.emit, one)),
            ("Open as a new work", partial(self.open_wanted.emit, one)),
            ("Rename…", partial(self.rename, name)),
            ("Export…", partial(self.export_wanted.emit, (one,))),
            *(((f"Export these {len(marked)}…", partial(self.export_wanted.emit, marked)),) if len(marked) > 1 else ()),
            (f"Export all {len(shelf)}…", partial(self.export_wanted.emit, shelf)),
            ("Remove", partial(self.remove, name)),
        )
        for words, act in acts:
            menu.addAction(words, act)
        menu.popup(where)

    def _key(self, name: str, event: QKeyEvent) -> None:
        order = list(self.tiles)
        at, key = order.index(name), event.key()
        ways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -COLUMNS, Qt.Key.Key_Down: COLUMNS}
        held = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if key == Qt.Key.Key_Delete:
            self.remove(name)
        elif key == Qt.Key.Key_F2:
            self.rename(name)
        elif key == Qt.Key.Key_Menu:
            self.open_menu(name, self.tiles[name].mapToGlobal(QPoint(8, 8)))
        elif key in ways and held:
            self.put_at(name, at + ways[Qt.Key(key)])
        elif key in ways and 0 <= at + ways[Qt.Key(key)] < len(order):
            self.tiles[order[at + ways[Qt.Key(key)]]].setFocus(Qt.FocusReason.OtherFocusReason)
        elif key not in ways:
            return
        event.accept()

    # -- dragging into order ---------------------------------------------------------------------
    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasFormat(FORM) or event.mimeData().hasFormat(SIBLING):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        event.acceptProposedAction()
        if event.mimeData().hasFormat(SIBLING):
            self.sibling_dropped.emit(int(bytes(event.mimeData().data(SIBLING).data()).decode()))
            return
        name = bytes(event.mimeData().data(FORM).data()).decode()
        QTimer.singleShot(0, self, partial(self.drop_at, name, event.position().toPoint()))

    def drop_at(self, name: str, where: QPoint) -> None:
        """Put a version where it was let go: before the picture that is nearest, or after it on its right half."""
        others = [tile for other, tile in self.tiles.items() if other != name]
        if not others or name not in self.tiles:
            return
        middles = [tile.mapTo(self, tile.rect().center()) for tile in others]
        nearest = min(range(len(others)), key=lambda k: (middles[k] - where).manhattanLength())
        self.put_at(name, nearest + int(where.x() > middles[nearest].x()))
