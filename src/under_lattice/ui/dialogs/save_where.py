"""Asking where a file shall be written: the ending is settled first, then whether what is there may be replaced."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from under_lattice.ui.look.words import Question


def ask_where(parent: QWidget, title: str, start: Path, ending: str, words: str) -> Path | None:
    """Return the file to write, its name ending in `ending`, or None; an existing one only once that is agreed to."""
    folder = start
    while True:
        chosen, _ = QFileDialog.getSaveFileName(
            parent, title, str(folder), f"{words} (*{ending})", options=QFileDialog.Option.DontConfirmOverwrite
        )
        if not chosen:
            return None
        path = Path(chosen)
        if path.suffix.lower() != ending:
            path = path.with_name(path.name + ending)
        if not path.exists() or may_replace(parent, path.name):
            return path
        folder = path


def may_replace(parent: QWidget, name: str) -> bool:
    """Ask whether what is there already may be replaced."""
    box = Question(parent, f"{name} is there already.", "Replace it? What it holds now is lost.")
    take = box.addButton("Replace", QMessageBox.ButtonRole.DestructiveRole)
    back = box.addButton("Choose another name", QMessageBox.ButtonRole.RejectRole)
    box.setDefaultButton(back)
    box.setEscapeButton(back)
    box.exec()
    return box.clickedButton() is take
