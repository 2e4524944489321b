"""Palettes to take: those of the house, made from one colour, sampled from the sheet or a picture, read from a file and written."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QIcon, QPainter, QPixmap
from PySide6.QtWidgets import QFileDialog, QMenu, QPushButton

from under_lattice.colour.made_palettes import ANGLES, harmony, lightness_of, sampled, shades
from under_lattice.colour.palette_text import FORMS, palette_of_text, text_of_palette
from under_lattice.core.errors import FileError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.bounded import read_bytes
from under_lattice.files.saving import write_atomically
from under_lattice.library.palettes import PALETTES
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.ui.dialogs.save_where import ask_where
from under_lattice.ui.dials.picture_row import KINDS
from under_lattice.ui.look.tokens import px
from under_lattice.ui.workers.background import background
from under_lattice.work.model import Design
from under_lattice.work.pictures import bring_in, pixels_of

SIDE = 240  # px of what is sampled
SHADES = (3, 5, 8)
STRIP = (24, 16)  # px, of a palette in the menu
FILES = f"Palettes (*{' *'.join(FORMS)})"
Palette = tuple[str, ...]


class PaletteMenu(QPushButton):
    """A button whose menu offers palettes in place of the one there is; `taken` tells which."""

    taken = Signal(object)
    refused = Signal(str)

    def __init__(self, label: str, palette: Callable[[], Palette], chosen: Callable[[], str], design: Callable[[], Design]) -> None:
        super().__init__("Palettes ▾")
        self.setObjectName("link")
        self.setAccessibleName(f"{label}, take another palette")
        self.setToolTip("Palettes of the house, from one colour, from a picture, from and to files")
        self._palette, self._chosen, self._design = palette, chosen, design
        self.menu_ = QMenu(self)
        self.menu_.aboutToShow.connect(self._fill)
        self.menu_.setStyleSheet(f"QMenu {{ icon-size: {px(STRIP[0])}px; }} QMenu::item {{ padding-left: {px(12)}px; }}")
        self.setMenu(self.menu_)
        self.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")

    def _fill(self) -> None:
        menu, chosen = self.menu_, self._chosen()
        menu.clear()
        house = menu.addMenu("Of the house")
        for name, colours in PALETTES.items():
            self._offer(house, name, colours)
        one = menu.addMenu(f"From {chosen}")
        for name, angles in ANGLES.items():
            self._offer(one, name, harmony(chosen, angles))
        one.addSeparator()
        for count in SHADES:
            row = shades(chosen, count)
            self._offer(one, f"{count} shades, L* {' '.join(f'{lightness_of(shade):.0f}' for shade in row)}", row)
        menu.addAction("From the sheet", self.sample_sheet)
        menu.addAction("From a picture…", self._choose_picture)
        menu.addSeparator()
        menu.addAction("From a file…", self._choose_file)
        out = menu.addMenu("To a file")
        for ending, words in FORMS.items():
            out.addAction(f"{words}…", partial(self._choose_where, ending))

    def _offer(self, menu: QMenu, words: str, colours: Palette) -> None:
        menu.addAction(strip_of(colours), words, lambda: self.taken.emit(colours))

    def sample_sheet(self) -> None:
        """Take as many colours as there are now from the sheet as it is painted."""
        design, count = self._design(), max(2, len(self._palette()))

        def work() -> Palette:
            evaluator = Evaluator()
            scene = make_scene(design, evaluator.design(design), evaluator)
            return sampled(paint_now(scene, whole_page(scene, SIDE)), count)

        self._take(work)

    def _choose_picture(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.window(), "Take colours from a picture", "", KINDS)
        if path:
            self.sample_picture(Path(path))

    def sample_picture(self, path: Path) -> None:
        """Take as many colours as there are now from a picture."""
        count = max(2, len(self._palette()))
        self._take(lambda: sampled(pixels_of(bring_in(read_bytes(path), path.name), SIDE), count))

    def _choose_file(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.window(), "Take a palette from a file", "", FILES)
        if path:
            self.read_file(Path(path))

    def read_file(self, path: Path) -> None:
        """Take the palette a file holds."""

        def work() -> Palette:
            try:
                return palette_of_text(read_bytes(path).decode("utf-8"), path.name)
            except UnicodeDecodeError:
                raise FileError(f"{path.name} is no text") from None

        self._take(work)

    def _choose_where(self, ending: str) -> None:
        path = ask_where(self.window(), "Write the palette", Path(f"palette{ending}"), ending, FORMS[ending])
        if path is not None:
            self.write_file(path)

    def write_file(self, path: Path) -> None:
        """Write the palette in the form the file's ending stands for."""
        data = text_of_palette(self._palette(), path.suffix.lower(), path.stem).encode("utf-8")
        background(self, lambda: write_atomically(path, data), lambda _: self.refused.emit(""), self.refused.emit)

    def _take(self, work: Callable[[], Palette]) -> None:
        def done(colours: Palette) -> None:
            if colours:
                self.taken.emit(colours)
            else:
                self.refused.emit("nothing is seen there that has a colour")

        background(self, work, done, self.refused.emit)


def strip_of(colours: Sequence[str]) -> QIcon:
    """Return a palette as a small picture: its colours side by side."""
    wide, high = px(STRIP[0]), px(STRIP[1])
    picture = QPixmap(wide, high)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    for k, one in enumerate(colours):
        left, right = round(k * wide / len(colours)), round((k + 1) * wide / len(colours))
        painter.fillRect(left, 0, right - left, high, QColor(one))
    painter.end()
    return QIcon(picture)
