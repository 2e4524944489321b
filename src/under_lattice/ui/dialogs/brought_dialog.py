"""What was left out of drawings that were brought in, each with a small picture of before and after."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QByteArray, QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QFrame, QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.look.words import Words

SIDE = 128  # px of a picture


@dataclass(frozen=True)
class Brought:
    """One file that was brought in: its name, what was left out, how it looks elsewhere and here; or why it was refused."""

    name: str
    left_out: tuple[str, ...] = ()
    before: QImage | None = None
    after: QImage | None = None
    refused: str = ""


def drawn_elsewhere(data: bytes) -> QImage:
    """Return a drawing as another reader of SVG shows it."""
    image = QImage(2 * SIDE, 2 * SIDE, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.white)
    renderer = QSvgRenderer(QByteArray(data))
    size = renderer.defaultSize()
    if renderer.isValid() and not size.isEmpty():
        scale = min(image.width() / size.width(), image.height() / size.height())
        wide, high = size.width() * scale, size.height() * scale
        painter = QPainter(image)
        renderer.render(painter, QRectF((image.width() - wide) / 2, (image.height() - high) / 2, wide, high))
        painter.end()
    return image


class BroughtDialog(Dialog):
    """Lists the files of which something was left out, or that were refused."""

    def __init__(self, found: list[Brought], count: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Brought in")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.setSpacing(12)
        whole = "1 layer was added." if count == 1 else f"{count} layers were added." if count else "Nothing was added."
        title = Words(whole)
        title.setObjectName("bold")
        column.addWidget(title)
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setHorizontalSpacing(12)
        for row, one in enumerate(found):
            self._add(grid, 2 * row, one)
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setWidget(inside)
        column.addWidget(area, 1)
        close = QPushButton("Close")
        close.setObjectName("primary")
        close.setDefault(True)
        close.clicked.connect(self.accept)
        column.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.resize(620, min(140 + sum(60 if one.refused else 190 for one in found), 620))

    def _add(self, grid: QGridLayout, row: int, one: Brought) -> None:
        words = Words(
            (one.refused if one.refused.startswith(one.name) else f"{one.name}: {one.refused}")
            if one.refused
            else f"{one.name}\nLeft out:\n" + "\n".join(f"• {why}" for why in one.left_out)
        )
        words.setTextFormat(Qt.TextFormat.PlainText)
        words.setWordWrap(True)
        words.setMinimumWidth(240)
        words.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.TextSelectableByKeyboard
        )
        grid.addWidget(words, row, 0, Qt.AlignmentFlag.AlignTop)
        for place, (image, said) in enumerate(((one.before, "as elsewhere"), (one.after, "as here")), 1):
            if image is not None:
                grid.addWidget(self._picture(image, said, one.name), row, place, Qt.AlignmentFlag.AlignTop)
        grid.setColumnStretch(0, 1)

    @staticmethod
    def _picture(image: QImage, said: str, name: str) -> QWidget:
        box = QWidget()
        lines = QVBoxLayout(box)
        lines.setContentsMargins(0, 0, 0, 8)
        lines.setSpacing(2)
        shown, words = Words(), Words(said)
        ways = (Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        shown.setPixmap(QPixmap.fromImage(image.scaled(SIDE, SIDE, *ways)))
        shown.setStyleSheet(f"border: 1px solid {colour('line').name()}")
        shown.setAccessibleName(f"{name}, {said}")
        words.setObjectName("small")
        lines.addWidget(shown)
        lines.addWidget(words)
        return box
