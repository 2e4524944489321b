"""Putting something into the pattern book: what of the work, its name, words to search by."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFormLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from under_lattice.files.book import KINDS
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.words import Words

WORDS = {
    "work": "the whole work, with its kept versions",
    "recipe": "the rules of the chosen layer, to put on another motif",
    "motif": "the motif of the chosen layer",
    "palette": "the colours of the open rule, or of the layer's Ink",
    "cell": "the work on a sheet of one repeat",
}


class BookDialog(Dialog):
    """Asks for kind, name and words; `put` carries them."""

    put = Signal(str, str, str)

    def __init__(self, names: dict[str, str], kind: str, parent: QWidget, words: str = "") -> None:
        super().__init__(parent)
        self.setWindowTitle("Put into the pattern book")
        self.names = names
        self.kind, self.name, self.words = QuietCombo("What"), QLineEdit(), QLineEdit(words)
        self.kind.addItems([one for one in KINDS if one in names])
        self.kind.setCurrentText(kind)
        self.about = Words("")
        self.about.setObjectName("small")
        self.name.setMaxLength(80)
        self.words.setMaxLength(400)
        self.words.setPlaceholderText("words to search by")
        form = QFormLayout()
        for label, part in (("What", self.kind), ("", self.about), ("Name", self.name), ("Words", self.words)):
            form.addRow(label, part)
        buttons = QHBoxLayout()
        cancel, self.go = QPushButton("Cancel"), QPushButton("Put in")
        self.go.setObjectName("primary")
        self.go.setDefault(True)
        cancel.clicked.connect(self.reject)
        self.go.clicked.connect(self._take)
        buttons.addStretch(1)
        buttons.addWidget(cancel)
        buttons.addWidget(self.go)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        column.addLayout(form)
        column.addLayout(buttons)
        self.kind.currentTextChanged.connect(self._show)
        self.name.textChanged.connect(lambda text: self.go.setEnabled(bool(text.strip())))
        self.setMinimumWidth(420)
        self._show(self.kind.currentText())

    def _show(self, kind: str) -> None:
        self.about.setText(WORDS[kind][:1].upper() + WORDS[kind][1:])
        if not self.name.isModified():
            self.name.setText(self.names[kind])
            self.name.selectAll()

    def _take(self) -> None:
        self.accept()
        self.put.emit(self.kind.currentText(), self.name.text().strip(), self.words.text().strip())
