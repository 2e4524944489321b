"""Takes the pictures of docs/first-hour.md while its steps are done; run by ./screenshots on a virtual screen."""

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication

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
        few = shot.toImage().convertToFormat(QImage.Format.Format_Indexed8, Qt.ImageConversionFlag.AvoidDither)
        few.save(str(FOLDER / f"{name}.png"))  # 256 colours will do
        print(f"first-hour/{name}")

    for step in FirstHour(waiting, window, Path(tempfile.mkdtemp()), see).steps:
        step()
    os._exit(0)  # nothing is kept, and nobody is asked


if __name__ == "__main__":
    main()
