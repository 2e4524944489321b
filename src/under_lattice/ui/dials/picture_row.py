"""A picture of the work: one that is there, one of the samples, or one brought in from a file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog

from under_lattice.files.bounded import read_bytes
from under_lattice.library.sample_pictures import SAMPLES, file_name, sample_picture
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import DialRow
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.workers.background import background
from under_lattice.work.pictures import StoredPicture, bring_in

FROM_FILE = "from a file…"
KINDS = "Pictures (*.png *.jpg *.jpeg *.webp *.tif *.tiff)"


class PicturePick(QuietCombo):
    """The list of pictures; what is chosen is in the work when `picked` says so."""

    picked = Signal(str, object)  # id, and the visit it is part of
    refused = Signal(str)

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(name)
        self.hand = hand
        self._shown = ""
        self.activated.connect(self._choose)

    def show_picture(self, chosen: str) -> None:
        """List what there is now, and which is used."""
        self._shown = chosen
        stored = self.hand.document.design.pictures
        entries = [("none", ""), *((one.name, one.id) for one in stored)]
        names = {one.name for one in stored}
        entries += [(f"sample: {name}", name) for name in SAMPLES if file_name(name) not in names]
        entries.append((FROM_FILE, FROM_FILE))
        if [(self.itemText(k), self.itemData(k)) for k in range(self.count())] != entries:
            self.clear()
            for words, key in entries:
                self.addItem(words, key)
        self.setCurrentIndex(max(0, self.findData(chosen)))

    def _choose(self, at: int) -> None:
        key = str(self.itemData(at))
        if key == FROM_FILE:
            self.setCurrentIndex(max(0, self.findData(self._shown)))
            path, _ = QFileDialog.getOpenFileName(self.window(), "Bring in a picture", "", KINDS)
            if path:
                self.bring_file(Path(path))
        elif key in SAMPLES:
            background(self, lambda: sample_picture(key), self._bring, self.refused.emit)
        else:
            self.picked.emit(key, object())

    def bring_file(self, path: Path) -> None:
        """Read a picture in the background and choose it."""

        def read() -> StoredPicture:
            return bring_in(read_bytes(path), path.name)

        background(self, read, self._bring, self.refused.emit)

    def _bring(self, picture: StoredPicture) -> None:
        visit = object()
        self.hand.bring(picture, visit)
        self.picked.emit(picture.id, visit)


class PictureRow(DialRow):
    """A picture that a rule uses."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self.pick = PicturePick(hand, self.dial.label)
        self.pick.setToolTip(self.dial.words)
        self.pick.picked.connect(self.turn)
        self.pick.refused.connect(self.refuse)
        self.line.addWidget(self.pick, 1)

    def refresh(self) -> None:
        self.pick.show_picture(self.value)
