"""Takes the pictures of docs/first-hour.md while its steps are done; run by ./screenshots on a virtual screen."""

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()

import numpy as np
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit
from scipy.spatial import cKDTree

from tests.first_hour import FirstHour
from under_lattice.ui.look.tokens import LOOK
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window

FOLDER = Path(__file__).parent.parent / "docs" / "first-hour"
WIDTH = 900  # px of a picture


class Waiting:
    """Waits as the tests do."""

    def wait(self, ms: int) -> None:
        """Let the window live for a while."""
        end = time.monotonic() + ms / 1000
        while time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.005)

    def waitUntil(self, ready: Callable[[], bool], timeout: int = 5000) -> None:
        """Let the window live until something is so."""
        end = time.monotonic() + timeout / 1000
        while not ready():
            if time.monotonic() > end:
                sys.exit("a step was not done in time")
            self.wait(10)

    def waitExposed(self, window: Window) -> None:
        """Wait until a window is seen."""
        self.waitUntil(window.isVisible)


def in_few_colours(whole: Image.Image) -> Image.Image:
    """Return a picture in 256 colours: those it has most of are as they were, which greys of a window must be."""
    pixels = np.asarray(whole).reshape(-1, 3)
    colours, count = np.unique(pixels, axis=0, return_counts=True)
    others = np.array(whole.quantize(192, Image.Quantize.MAXCOVERAGE).getpalette()).reshape(-1, 3)
    palette = np.concatenate([colours[np.argsort(-count)[:64]], others[:192]]).astype(np.uint8)
    few = Image.fromarray(cKDTree(palette).query(pixels)[1].astype(np.uint8).reshape(whole.height, whole.width), "P")
    few.putpalette(palette.tobytes())
    return few


class Photographed(FirstHour):
    """Types without waiting for the focus: where no window manager is, a panel would close when it comes."""

    def type_in(self, field: QLineEdit, text: str) -> None:
        """Type over what a field has."""
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)


def main() -> None:
    """Do the steps and take a picture wherever one is wanted."""
    LOOK.wish = "light"
    make_application()
    window, waiting = Window(), Waiting()
    window.setWindowFlag(Qt.WindowType.FramelessWindowHint)
    window.setGeometry(0, 0, 1280, 800)
    window.show()
    waiting.wait(500)
    window.activateWindow()
    FOLDER.mkdir(exist_ok=True)

    def see(name: str) -> None:
        waiting.wait(900)
        shot = window.screen().grabWindow(0).scaledToWidth(WIDTH, Qt.TransformationMode.SmoothTransformation)
        seen = shot.toImage().convertToFormat(QImage.Format.Format_RGB888)
        whole = Image.frombytes("RGB", (seen.width(), seen.height()), bytes(seen.constBits()), "raw", "RGB", seen.bytesPerLine())
        in_few_colours(whole).save(FOLDER / f"{name}.png", optimize=True)
        print(f"first-hour/{name}")

    for step in Photographed(waiting, window, Path(tempfile.mkdtemp()), see).steps:
        step()
    os._exit(0)  # nothing is kept, and nobody is asked


if __name__ == "__main__":
    main()
