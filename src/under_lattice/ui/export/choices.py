"""Rows of buttons of which one is chosen."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QButtonGroup, QPushButton, QVBoxLayout

from under_lattice.ui.look.flow import Flow
from under_lattice.ui.look.words import Words


def choices(label: str, group: QButtonGroup, things: Sequence[tuple[str, str, str]], name: str) -> QVBoxLayout:
    """Return a button for each thing (its key, title, words about it) under a label; `name` is where a button has its key."""
    column, rows = QVBoxLayout(), Flow(4)
    column.setSpacing(4)
    head = Words(label)
    head.setObjectName("small")
    column.addWidget(head)
    for key, title, words in things:
        button = QPushButton(title)
        button.setCheckable(True)
        button.setAutoDefault(False)  # Enter goes on to the file
        button.setProperty(name, key)
        button.setToolTip(words)
        group.addButton(button)
        rows.addWidget(button)
    column.addLayout(rows)
    return column
