"""What this is, in which version, and with what it is made."""

from __future__ import annotations

import platform
from importlib.metadata import PackageNotFoundError, version

from PySide6.QtCore import Qt, qVersion
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from under_lattice import __version__
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.mark import Mark
from under_lattice.ui.look.words import Words

PACKAGES = ("PySide6-Essentials", "numpy", "scipy", "numba", "shapely", "pydantic", "pillow", "fonttools", "uharfbuzz", "tinycss2")


def versions() -> list[str]:
    """Return what it is made with, a line each."""
    lines = [
        f"Under Lattice {__version__}",
        f"Python {platform.python_version()}",
        f"Qt {qVersion()}, on {QGuiApplication.platformName()}",
    ]
    for name in PACKAGES:
        try:
            lines.append(f"{name} {version(name)}")
        except PackageNotFoundError:  # of an environment that was made by other means
            continue
    return lines


class AboutDialog(Dialog):
    """The sign, the versions, and a button that copies them."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("About Under Lattice")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 24, 24, 16)
        column.setSpacing(12)
        head = QHBoxLayout()
        head.setSpacing(14)
        head.addWidget(Mark(48))
        title = Words("Under Lattice")
        title.setObjectName("title")
        head.addWidget(title, 1)
        column.addLayout(head)
        column.addWidget(Words("One shape, a few rules: a studio for geometric patterns."))
        self.lines = Words("\n".join(versions()))
        self.lines.setObjectName("quiet")
        self.lines.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.TextSelectableByKeyboard
        )
        self.lines.setAccessibleName("Versions")
        column.addWidget(self.lines)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        copy, close = QPushButton("Copy versions"), QPushButton("Close")
        copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(self.lines.text()))
        close.clicked.connect(self.accept)
        close.setObjectName("primary")
        close.setDefault(True)
        buttons.addWidget(copy)
        buttons.addWidget(close)
        column.addLayout(buttons)
