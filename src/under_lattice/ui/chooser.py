"""The chooser of rules: a live picture of what each rule would do to this work."""

from __future__ import annotations

from PySide6.QtCore import QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QImage, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QDialog, QGridLayout, QLabel, QVBoxLayout, QWidget

from under_lattice.rules import RULES
from under_lattice.rules.base import Rule
from under_lattice.rules.layer_end import LayerEnd
from under_lattice.ui.pictures import Pictures
from under_lattice.ui.tokens import colour

ADDABLE: tuple[type[Rule], ...] = tuple(rule for rule in RULES if rule.family != "motif" and rule is not LayerEnd)
ACROSS = 3


class RuleTile(QAbstractButton):
    """One rule with its picture and its words."""

    def __init__(self, kind: type[Rule]) -> None:
        super().__init__()
        self.kind = kind
        self.picture: QImage | None = None
        self.problem = ""
        self.setAccessibleName(f"{kind.title}: {kind.words}")
        self.setToolTip(kind.words)
        self.setFixedSize(216, 216)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(216, 216)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        strong = self.hasFocus()
        painter.setPen(QPen(colour("ver" if strong else "line"), 2 if strong else 1))
        painter.setBrush(colour("hover" if self.underMouse() else "card"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        box = QRectF(8, 8, 200, 136)
        painter.fillRect(box, colour("field"))
        if self.picture is not None:
            painter.drawImage(box, self.picture)
        elif self.problem:
            painter.setPen(colour("text2"))
            painter.drawText(
                box.adjusted(10, 10, -10, -10), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), self.problem
            )
        painter.setPen(QPen(colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        bold = QFont(self.font())
        bold.setBold(True)
        painter.setFont(bold)
        painter.setPen(colour("text"))
        painter.drawText(QRect(8, 148, 200, 20), Qt.AlignmentFlag.AlignVCenter, self.kind.title)
        painter.setFont(self.font())
        painter.setPen(colour("text2"))
        painter.drawText(QRect(8, 168, 200, 44), int(Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap), _short(self.kind.words))
        painter.end()


def _short(words: str) -> str:
    first = words.split(";")[0].split(":")[0].rstrip(".")
    return first if len(first) < 62 else first[:60] + "…"


class RuleChooser(QDialog):
    """Choose a rule; `chosen` carries its kind."""

    chosen = Signal(object)

    def __init__(self, parent: QWidget, pictures: Pictures) -> None:
        super().__init__(parent)
        self.setWindowTitle("Add a rule")
        self.pictures = pictures
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(12)
        title = QLabel("What each rule would do to this work, here in the chain")
        title.setObjectName("bold")
        column.addWidget(title)
        grid = QGridLayout()
        grid.setSpacing(8)
        self.tiles: dict[str, RuleTile] = {}
        for k, kind in enumerate(ADDABLE):
            tile = RuleTile(kind)
            tile.clicked.connect(lambda _=False, kind=kind: self._take(kind))
            self.tiles[str(kind.model_fields["kind"].default)] = tile
            grid.addWidget(tile, k // ACROSS, k % ACROSS)
        column.addLayout(grid)
        pictures.made.connect(self._made)
        pictures.refused.connect(self.show_problem)

    def _made(self, key: str, picture: QImage) -> None:
        name = key.removeprefix("rule:")
        if key.startswith("rule:") and name in self.tiles:
            self.tiles[name].picture = picture
            self.tiles[name].update()

    def show_problem(self, key: str, sentence: str) -> None:
        """Say why a rule could not act here."""
        tile = self.tiles.get(key.removeprefix("rule:"))
        if tile is not None:
            tile.problem = sentence[:1].upper() + sentence[1:]
            tile.update()

    def _take(self, kind: type[Rule]) -> None:
        self.accept()
        self.chosen.emit(kind)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        names = list(self.tiles)
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: ACROSS, Qt.Key.Key_Up: -ACROSS}.get(Qt.Key(event.key()))
        if step is not None:
            at = next((k for k, name in enumerate(names) if self.tiles[name].hasFocus()), 0)
            self.tiles[names[min(max(at + step, 0), len(names) - 1)]].setFocus()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            for tile in self.tiles.values():
                if tile.hasFocus():
                    tile.click()
        else:
            super().keyPressEvent(event)

    def done(self, result: int) -> None:
        self.pictures.made.disconnect(self._made)
        self.pictures.refused.disconnect(self.show_problem)
        self.pictures.drop()
        super().done(result)
