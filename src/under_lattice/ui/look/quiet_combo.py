"""A list to choose from: quiet under the wheel, as wide as its place, its words cut at a letter where they are longer."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QComboBox, QLineEdit, QStyle, QStyleOptionComboBox, QStylePainter

ROWS_SEEN = 16  # of an open list, before it scrolls


class QuietCombo(QComboBox):
    """A list that leaves the wheel to what is around it until it has the focus."""

    def __init__(self, name: str, cut: Qt.TextElideMode = Qt.TextElideMode.ElideRight) -> None:
        super().__init__()
        self._cut = cut  # where words too long for it lose their letters
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setLineEdit(QLineEdit())  # for a moment: the list is made by the next line, without arrows where one can type
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setEditable(False)
        self.setMinimumContentsLength(6)
        self.setMaxVisibleItems(ROWS_SEEN)

    def showPopup(self) -> None:
        """Open the list as wide as its words, which may be longer than the closed one."""
        self.view().setMinimumWidth(self.view().sizeHintForColumn(0) + 2 * self.view().frameWidth())
        super().showPopup()

    def wheelEvent(self, event: Any) -> None:
        if self.hasFocus():
            super().wheelEvent(event)
        else:
            event.ignore()

    def paintEvent(self, event: QPaintEvent) -> None:
        option = QStyleOptionComboBox()
        self.initStyleOption(option)
        part = QStyle.SubControl.SC_ComboBoxEditField
        room = self.style().subControlRect(QStyle.ComplexControl.CC_ComboBox, option, part, self).width() - 2
        if self.fontMetrics().horizontalAdvance(option.currentText) <= room:
            super().paintEvent(event)
            return
        option.currentText = self.fontMetrics().elidedText(option.currentText, self._cut, room)  # else cut off in a letter
        painter = QStylePainter(self)
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, option)
        painter.end()
