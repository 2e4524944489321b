"""From the start of a process to the window with its first exact picture, and to a bare window of the same libraries."""

import os
import subprocess
import sys
from functools import partial

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from rounds import ratio

OURS = """
from under_lattice.command_line.begin import make_ready
make_ready()
from under_lattice.library import demo
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
app = make_application()
window = Window()
window.show_work(demo("entrance-floor"))
window.show()
def end(answer):
    if not answer.plain:
        app.quit()
window.engine.painted.connect(end)
app.exec()
import os
os._exit(0)
"""
BARE = """
import numpy, numba, scipy.spatial, shapely, pydantic
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.show()
QTimer.singleShot(0, app.quit)
app.exec()
import os
os._exit(0)
"""


def start(source: str) -> None:
    subprocess.run([sys.executable, "-c", source], check=True, stderr=subprocess.DEVNULL)


if __name__ == "__main__":
    ratio("first picture / a bare window and the libraries", partial(start, OURS), partial(start, BARE), 7)
