"""Words of the window are plain text: names of works, layers and files hold no markup, whatever stands in them."""

from __future__ import annotations

import html
import re
from collections.abc import Sequence

from PySide6.QtGui import Qt
from PySide6.QtWidgets import QLabel, QMessageBox, QPushButton, QVBoxLayout, QWidget

from under_lattice.ui.look.edged import Message

_LONG = re.compile(r"\S{25,}")  # a word that may be wider than the column it stands in
_PART = re.compile(r"\S{12}(?=\S)")


class Words(QLabel):
    """A label that shows its text as it is; where it breaks lines, it breaks a very long word too."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)

    def setText(self, text: str) -> None:
        super().setText(_LONG.sub(_breakable, text) if self.wordWrap() else text)


def _breakable(word: re.Match[str]) -> str:
    """A word that may be broken after each dozen of letters."""
    return _PART.sub("\\g<0>\u200b", word[0])


class Remark(QVBoxLayout):
    """A place for words that are seldom there; their label is made when there is something to say."""

    def __init__(self, name: str, wraps: bool = False) -> None:
        super().__init__()
        self.said = ""
        self._name, self._wraps = name, wraps
        self._words: Words | None = None

    def say(self, text: str) -> None:
        """Show words, or nothing."""
        self.said = text
        if self._words is None:
            if not text:
                return
            self._words = Words("")
            self._words.setObjectName(self._name)
            self._words.setWordWrap(self._wraps)
            self.addWidget(self._words)
        self._words.setText(text)
        self._words.setVisible(bool(text))


class Question(Message):
    """A message or question of the program, and what follows from it."""

    def __init__(self, parent: QWidget, sentence: str, more: str = "") -> None:
        super().__init__(QMessageBox.Icon.NoIcon, "Under Lattice", "", parent=parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(sentence)
        self.setInformativeText(more)


def tip(text: str) -> str:
    """Return a text for where the toolkit would take markup, as tool tips do: it shows as it is."""
    return "<qt>" + html.escape(text).replace("\n", "<br>") + "</qt>" if Qt.mightBeRichText(text) else text


def on_button(text: str) -> str:
    """Return a text for a button or a menu, where one ``&`` would underline the next letter."""
    return text.replace("&", "&&")


def say_more(button: QPushButton, names: Sequence[str], unfolded: bool, room: int) -> None:
    """Let a button that unfolds rows say how many there are, and which while they are folded, in so many pixels."""
    text = f"{'▾' if unfolded else '▸'}  More ({len(names)}){'' if unfolded else '   ' + ', '.join(names)}"
    button.setText(on_button(button.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)))
    button.setAccessibleName(f"More: {', '.join(names)}")
