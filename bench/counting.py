"""What painting costs a thread that counts in Python meanwhile: its speed while S4 is painted, over its speed alone."""

import os
import statistics
import sys
import threading
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtGui import QGuiApplication
from scenes import VIEW, stroked_discs

from under_lattice.render.paint import paint

LONG = 1.0  # seconds of counting


def speed() -> float:
    """Return how far this thread counts in a second."""
    begun, k = time.perf_counter(), 0
    while time.perf_counter() - begun < LONG:
        for _ in range(1000):
            k += 1
    return k / (time.perf_counter() - begun)


def main() -> None:
    QGuiApplication.instance() or QGuiApplication([])
    sys.setswitchinterval(0.00005)  # as in the window
    scene = stroked_discs().scene
    paint(scene, VIEW, threads=1)
    shares = []
    for _ in range(7):
        done, pictures = threading.Event(), 0

        def keep_painting(done: threading.Event = done) -> None:
            nonlocal pictures
            while not done.is_set():
                paint(scene, VIEW, threads=1)
                pictures += 1

        alone = speed()
        painter = threading.Thread(target=keep_painting)
        painter.start()
        meanwhile = speed()
        done.set()
        painter.join()
        shares.append(meanwhile / alone)
        print(f"alone {alone / 1e6:.2f} M/s, while {pictures} pictures are painted {meanwhile / 1e6:.2f} M/s")
    print(f"loses {100 * (1 - statistics.median(shares)):.1f} % of its speed")


if __name__ == "__main__":
    main()
