"""Siblings in the tray: the hanging thread, what the one looked at changes, and what can be done with it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QSize, Qt, QTimer
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from under_lattice.declare.dials import Ratio
from under_lattice.explore.dealing import Sibling
from under_lattice.explore.movable import WHOLE, Scope
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, on_button, tip
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.state.looked_at import Instead
from under_lattice.ui.tray.hanging import COUNT, Hanging
from under_lattice.ui.tray.roaming import Roaming
from under_lattice.work.locks import lock_all_but, unlock_all

HOW_FAR = Ratio("How far", "How far values may roam: near 0, far 100 %.")
SHOWN = 3  # changes that are listed
LOOK_MS = 120  # a pointer that only passes by shows nothing


class SiblingsPanel(QWidget):
    """Above in the tray."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self.hanging = desk, Hanging()
        self.roaming = Roaming(desk, self._sizes, self)
        self.roaming.changed.connect(self.refresh)
        self.picked = -1
        self._looking = QTimer(self, singleShot=True, interval=LOOK_MS)
        self._looking.timeout.connect(self._look)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 6)
        column.setSpacing(4)
        column.addLayout(self._head())
        column.addLayout(self._terms_row())
        column.addWidget(self.hanging)
        column.addLayout(self._list())
        column.addLayout(self._buttons())
        self._place_field()
        for k, tile in enumerate(self.hanging.tiles):
            tile.looked_at.connect(lambda _: self._looking.start())
            tile.clicked.connect(partial(self.pick, k))
            tile.taken.connect(partial(self.adopt, k))
            tile.key_pressed.connect(partial(self._key, k))
            tile.menu_wanted.connect(partial(self._tile_menu, k))
        self.hanging.reach.moved.connect(self.roaming.reach)
        self.refresh()

    # -- parts -----------------------------------------------------------------------------------
    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(0)
        title = Words("Siblings")
        title.setObjectName("heading")
        row.addWidget(title)
        row.addStretch(1)
        self.before, self.after = self._step("←", "The deal before"), self._step("→", "The deal after")
        self.before.clicked.connect(self.roaming.earlier)
        self.after.clicked.connect(self.roaming.later)
        self.which = Words("")
        self.which.setObjectName("small")
        for part in (self.before, self.which, self.after):
            row.addWidget(part)
        row.addSpacing(6)
        self.again = QPushButton("Deal again")
        self.again.setToolTip("Deal others of the work as it is")
        self.again.clicked.connect(self.roaming.deal_again)
        row.addWidget(self.again)
        return row

    @staticmethod
    def _step(sign: str, words: str) -> QToolButton:
        button = QToolButton()
        button.setText(sign)
        button.setObjectName("step")
        button.setFixedWidth(px(24))
        button.setToolTip(words)
        button.setAccessibleName(words)
        return button

    def _terms_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        self.scope, self.colours = QToolButton(), QToolButton()
        self.scope.setObjectName("step")
        self.scope.setToolTip("Which part of the work may move, and locks")
        self.scope.clicked.connect(self._scope_menu)
        self.colours.setObjectName("step")
        self.colours.setCheckable(True)
        self.colours.setToolTip("Let colours move too, in harmony with each other; or hold them")
        self.colours.clicked.connect(self.roaming.colours)
        row.addWidget(self.scope)
        row.addStretch(1)
        row.addWidget(self.colours)
        return row

    def _place_field(self) -> None:
        """Put the number of the reach beside its bead."""
        holder = self.hanging.far
        self.far = NumberField(HOW_FAR, "%", 96.0, "How far, in per cent", holder)
        self.far.keep_whole(px(52))
        self.far.entered.connect(lambda value: self.roaming.reach(value / 100))
        self.far.nudged.connect(self.far.step_seen)
        label = Words("how far", holder)
        label.setObjectName("small")
        label.move(4, 5)
        self.far.move(50, 2)

    def _sizes(self) -> tuple[QSize, QSize]:
        """Sizes of the pictures in pixels of the screen."""
        now, small = self.hanging.sizes()
        return now * self.devicePixelRatioF(), small * self.devicePixelRatioF()

    def lay(self, room: int) -> None:
        """Hang the pictures as large as fit into `room` px, with all that stands round them."""
        others = self.sizeHint().height() - self.hanging.height()
        self.hanging.lay(room - others)

    def _list(self) -> QGridLayout:
        self.title, self.count = Words(""), Words("")
        self.title.setObjectName("bold")
        self.count.setObjectName("small")
        self.changes = QGridLayout()
        self.changes.setHorizontalSpacing(8)
        self.changes.setVerticalSpacing(1)
        self.changes.setColumnStretch(0, 1)
        whole = QGridLayout()
        whole.setVerticalSpacing(2)
        whole.addWidget(self.title, 0, 0)
        whole.addWidget(self.count, 0, 1, Qt.AlignmentFlag.AlignRight)
        holder = QWidget()
        holder.setLayout(self.changes)
        holder.setFixedHeight(17 * SHOWN + 2)
        self.changes.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(holder, 1, 0, 1, 2)
        return whole

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        self.adopt_button, self.keep_button = QPushButton("Adopt"), QPushButton("Keep")
        self.adopt_button.setToolTip("Go on from this one (Space); one step of undo")
        self.keep_button.setToolTip("Put it on the shelf (K)")
        self.adopt_button.clicked.connect(lambda: self.adopt(self.picked))
        self.keep_button.clicked.connect(lambda: self.keep(self.picked))
        row.addWidget(self.adopt_button)
        row.addWidget(self.keep_button)
        return row

    # -- showing ---------------------------------------------------------------------------------
    def refresh(self) -> None:
        """Show the deal as far as it has come."""
        deal, terms = self.roaming.deal, self.roaming.terms
        hung = deal.hung if deal is not None else []
        if deal is not None and deal.now is not None:
            self.hanging.now.show_picture(deal.now)
        for k, tile in enumerate(self.hanging.tiles):
            picture: QImage | None = hung[k].picture if k < len(hung) else None
            if tile.picture is not picture:
                tile.show_picture(picture)
            words = "; ".join(change.words() for change in hung[k].sibling.changes) if k < len(hung) else "not there yet"
            tile.setAccessibleName(f"Sibling {k + 1}: {words}")
            tile.setToolTip("")
        count = len(self.roaming.deals)
        self.which.setText(f"{self.roaming.at + 1} of {count}" if count else "")
        self.which.setAccessibleName(f"Deal {self.roaming.at + 1} of {count}")
        self.before.setEnabled(self.roaming.at > 0)
        self.after.setEnabled(self.roaming.at + 1 < count)
        self.colours.setChecked(terms.colours)
        self.colours.setText("Colours too" if terms.colours else "Colours held")
        self.scope.setText(on_button(self._scope_words(terms.scope)))
        self.hanging.reach.show_share(terms.reach)
        self.far.show_value(terms.reach * 100)
        if self.picked >= len(hung):
            self.picked = -1
        self._show_list()

    def _scope_words(self, scope: Scope) -> str:
        design = self.desk.document.design
        if scope.chosen:
            return "one dial ▾" if len(scope.chosen) == 1 else f"{len(scope.chosen)} dials ▾"
        if scope.rule:
            names = [rule.shown_name() for _, rule in design.every_rule() if rule.id == scope.rule]
            return f"{self._short(names[0] if names else 'a rule')} ▾"
        if scope.layer:
            layer = design.tree.by_id.get(scope.layer)
            return f"{self._short(layer.name if layer is not None else 'a layer')} ▾"
        return "Whole work ▾"

    def _short(self, text: str) -> str:
        return self.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, 84)

    def _seen(self) -> int:
        return next((k for k, tile in enumerate(self.hanging.tiles) if tile.seen and tile.isEnabled()), -1)

    def sibling(self, at: int) -> Sibling | None:
        """Return one of the siblings that hang there, if it does."""
        deal = self.roaming.deal
        return deal.hung[at].sibling if deal is not None and 0 <= at < len(deal.hung) else None

    def _show_list(self) -> None:
        """List what the sibling looked at, or else the picked one, changes."""
        seen = self._seen()
        at = seen if seen >= 0 else self.picked
        sibling = self.sibling(at)
        emptied(self.changes)
        for button in (self.adopt_button, self.keep_button):
            button.setEnabled(self.sibling(self.picked) is not None)
        if sibling is None:
            deal = self.roaming.deal
            dealing = deal is not None and not deal.whole and not self.roaming.sentence
            self.title.setText("Dealing…" if dealing else "")
            self.count.setText("" if deal is None else f"{len(deal.hung)} of {COUNT}" if dealing else "")
            words = self.roaming.sentence or ("" if dealing else "Point at one to see it large and what it changes.")
            said = Words(words)
            said.setObjectName("small")
            said.setWordWrap(True)
            said.setAlignment(Qt.AlignmentFlag.AlignTop)
            self.changes.addWidget(said, 0, 0)
            return
        self.title.setText(f"Sibling {at + 1}")
        changes = sibling.changes
        more = f", {len(changes) - SHOWN} more" if len(changes) > SHOWN else ""
        self.count.setText((f"{len(changes)} differ" if len(changes) > 1 else "1 differs") + more)
        self.count.setToolTip(tip("\n".join(change.words() for change in changes)))
        for row, change in enumerate(changes[:SHOWN]):
            what, how = Words(), Words(self._elided(f"{change.was} → {change.now}", 132))
            what.setText(self._elided(change.what, 232 - how.sizeHint().width()))
            for label in (what, how):
                label.setObjectName("small" if label is what else "fact")
                label.setToolTip(tip(change.words()))
                label.setFixedHeight(px(16))
            self.changes.addWidget(what, row, 0)
            self.changes.addWidget(how, row, 1, Qt.AlignmentFlag.AlignRight)
        self.changes.setRowStretch(SHOWN, 1)

    def _elided(self, text: str, wide: int) -> str:
        return self.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, wide)

    def _look(self) -> None:
        """Show the sibling that is looked at large on the sheet; the work when none is."""
        seen = self._seen()
        sibling = self.sibling(seen)
        self.desk.looked.instead = Instead(sibling.design, f"sibling {seen + 1}") if sibling is not None else None
        if sibling is not None:
            self.roaming.use()
        self._show_list()

    # -- doing -----------------------------------------------------------------------------------
    def pick(self, at: int, _: bool = False) -> None:
        """Take a sibling as the one the buttons act on."""
        self.picked = at if self.sibling(at) is not None else -1
        for k, tile in enumerate(self.hanging.tiles):
            tile.marked = k == self.picked
            tile.update()
        self._show_list()

    def adopt(self, at: int) -> None:
        """Go on from a sibling: one step of undo."""
        sibling = self.sibling(at)
        if sibling is not None:
            self.roaming.use()
            self.pick(-1)
            self.desk.looked.instead = None
            self.desk.document.apply(f"Adopt sibling {at + 1}", sibling.design, whole=True)

    def keep(self, at: int) -> None:
        """Put a sibling on the shelf."""
        sibling = self.sibling(at)
        if sibling is not None:
            self.roaming.use()
            self.desk.keep(sibling.design, f"Sibling {at + 1}")

    def _key(self, at: int, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_K:
            self.keep(at)
            event.accept()
        elif event.key() == Qt.Key.Key_Escape:
            self.hanging.tiles[at].by_keys = False
            self._looking.start(0)
            event.accept()

    def _tile_menu(self, at: int, where: QPoint) -> None:
        menu = PopupMenu(self)
        menu.addAction("Adopt", partial(self.adopt, at))
        menu.addAction("Keep", partial(self.keep, at))
        menu.popup(where)

    def _scope_menu(self) -> None:
        """Offer which part may move: all, the chosen layer, the open rule; and what holds still."""
        looked, design = self.desk.looked, self.desk.document.design
        menu = PopupMenu(self)
        menu.addAction("Whole work", partial(self.roam_in, WHOLE))
        if looked.chosen is not None:
            menu.addAction(on_button(f"{looked.chosen.name} alone"), partial(self.roam_in, Scope(layer=looked.layer)))
            rule = next((one for one in looked.chosen.every_rule if one.id == looked.rule), None)
            if rule is not None:
                menu.addAction(on_button(f"{rule.shown_name()} alone"), partial(self.roam_in, Scope(rule=rule.id)))
                menu.addSeparator()
                menu.addAction(on_button(f"Lock all but {rule.shown_name()}"), partial(self._lock_but, rule.id))
        menu.addSeparator()
        free = menu.addAction("Unlock all", lambda: self.desk.edit("Unlock all", unlock_all))
        free.setEnabled(unlock_all(design) is not design)
        menu.popup(self.scope.mapToGlobal(QPoint(0, self.scope.height())))

    def _lock_but(self, rule: str) -> None:
        self.desk.edit("Lock all but one rule", lambda design: lock_all_but(design, rule))

    def roam_in(self, scope: Scope) -> None:
        """Deal siblings of a part of the work."""
        self.roaming.scope(scope)
