"""The command strip: name of the work, undo and redo, view switches, export."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QAction, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout, QWidget

from under_lattice.ui.look.glyphs import glyph_icon
from under_lattice.ui.look.mark import Mark
from under_lattice.ui.look.tokens import STRIP_HEIGHT, colour, px
from under_lattice.ui.look.words import Words, tip
from under_lattice.work.model import Design


class CommandStrip(QWidget):
    """The band over the sheet; its buttons do what the actions of the same name do."""

    def __init__(self, actions: dict[str, QAction], menu: QMenu) -> None:
        super().__init__()
        self.actions_by_key = actions
        self._name = self._commission = ""
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(px(STRIP_HEIGHT))
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(4)
        row.addWidget(Mark(26))
        names = QVBoxLayout()
        names.setSpacing(0)
        names.setContentsMargins(0, 6, 0, 6)
        self.name, self.commission = Words(""), Words("")
        self.name.setObjectName("bold")
        self.commission.setObjectName("small")
        names.addWidget(self.name)
        names.addWidget(self.commission)
        box = QWidget()
        box.setLayout(names)
        box.setFixedWidth(px(174))
        row.addWidget(box)
        self.buttons: dict[str, QToolButton] = {}
        self.menu_button = QToolButton()
        self.menu_button.setText("All commands")
        self.menu_button.setMenu(menu)
        self.menu_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.menu_button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.menu_button.setToolTip("All commands (F10); F1 finds one by any word")
        row.addWidget(self.menu_button)
        self._tool(row, "book", "Book", "")
        row.addSpacing(8)
        self._tool(row, "undo", "", "undo")
        self._tool(row, "redo", "", "redo")
        self._tool(row, "history", "▾", "")
        self.buttons["history"].setObjectName("step")
        self.buttons["history"].setFixedWidth(px(24))
        divider = QFrame()
        divider.setObjectName("divider")
        divider.setFixedSize(1, px(24))
        row.addWidget(divider)
        self._tool(row, "bones", "Outlines", "bones")
        self._tool(row, "handles", "Handles", "handles")
        self._tool(row, "repeat", "", "repeat")
        row.addStretch(1)
        self._tool(row, "strip", "Test strip", "strip")
        self._tool(row, "compare", "Compare", "compare")
        self._tool(row, "tray", "", "tray")
        row.addSpacing(4)
        self.keep = self._button(row, "keep", "Keep", False)
        self.save = self._button(row, "save", "Save", False)
        self.export = self._button(row, "export", "Export", True)
        row.setSizeConstraint(QHBoxLayout.SizeConstraint.SetNoConstraint)  # it never widens the window
        self._row, self._box = row, box
        self.dress()

    def minimumSizeHint(self) -> QSize:
        return QSize(640, px(STRIP_HEIGHT))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()

    def fit(self) -> None:
        """Where there is no room for all words, signs alone stand for what has one; then the name gives way."""
        wordy = [button for button in self.buttons.values() if button.property("glyph") and button.text()]
        beside, alone = Qt.ToolButtonStyle.ToolButtonTextBesideIcon, Qt.ToolButtonStyle.ToolButtonIconOnly
        for signs, wide in ((0, 174), (0, 144), (2, 174), (2, 144), (len(wordy), 174), (len(wordy) + 1, 174), (len(wordy) + 1, 96)):
            for k, button in enumerate((*wordy, self.menu_button)):
                button.setToolButtonStyle(alone if k < signs else beside)
            self._box.setFixedWidth(px(wide))
            self._row.invalidate()
            if self._row.sizeHint().width() <= self.width():
                break
        self._elide()

    def _elide(self) -> None:
        room = self._box.width() - 6
        for label, text in ((self.name, self._name), (self.commission, self._commission)):
            label.setText(label.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room))

    def _tool(self, row: QHBoxLayout, key: str, words: str, glyph: str) -> None:
        button = QToolButton()
        action = self.actions_by_key[key]
        button.setText(words)
        button.setProperty("glyph", glyph)
        button.setCheckable(action.isCheckable())
        button.setToolButtonStyle(
            Qt.ToolButtonStyle.ToolButtonTextBesideIcon
            if words and glyph
            else Qt.ToolButtonStyle.ToolButtonTextOnly
            if words
            else Qt.ToolButtonStyle.ToolButtonIconOnly
        )
        button.setMinimumHeight(px(32))
        button.setIconSize(QSize(18, 18))
        button.clicked.connect(action.trigger)
        action.changed.connect(lambda: self._follow(button, action))
        self.buttons[key] = button
        self._follow(button, action)
        row.addWidget(button)

    @staticmethod
    def _follow(button: QToolButton, action: QAction) -> None:
        button.setEnabled(action.isEnabled())
        button.setChecked(action.isChecked())
        shortcut = action.shortcut().toString()
        button.setToolTip(action.text().replace("…", "") + (f" ({shortcut})" if shortcut else ""))
        button.setAccessibleName(action.text())

    def _button(self, row: QHBoxLayout, key: str, words: str, primary: bool) -> QPushButton:
        button = QPushButton(words)
        action = self.actions_by_key[key]
        if primary:
            button.setObjectName("primary")
        button.setMinimumSize(px(92 if primary else 68), px(32))
        button.setToolTip(f"{action.text()} ({action.shortcut().toString()})")
        button.clicked.connect(action.trigger)
        row.addWidget(button)
        return button

    def dress(self) -> None:
        """Draw the glyphs in the colours of the theme in force."""
        for button in self.buttons.values():
            glyph = button.property("glyph")
            if glyph:
                button.setIcon(glyph_icon(glyph, colour("text"), colour("dis")))
        self.menu_button.setIcon(glyph_icon("menu", colour("text")))
        self.export.setIcon(glyph_icon("export", colour("verink")))

    def show_work(self, design: Design, modified: bool) -> None:
        """Show the name of the work; a dot says that it is not saved."""
        self._name, self._commission = design.name + (" •" if modified else ""), design.commission or "no commission"
        self._elide()
        self.name.setToolTip(tip(f"{design.name}, not saved" if modified else design.name))
        self.commission.setToolTip(tip(self._commission))
