"""From a key pressed in a number to the pixels of its picture, and how many pictures a dial shows that is dragged for 3 s.

python bench/dial.py
"""

import os
import statistics
import tempfile
import time
from collections.abc import Callable

os.environ["XDG_STATE_HOME"] = os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.rules import Ink, Lattice, Polygon, PushEdges
from under_lattice.rules.base import Rule
from under_lattice.ui.dials.number_row import NumberRow
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
from under_lattice.work.model import Design, Work

PRESSES, DRAGGED = 40, 3.0  # s
WAITING = QEventLoop.ProcessEventsFlag.WaitForMoreEvents
APP = make_application()
QMessageBox.exec = lambda box: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]


class Bench:
    """A window of 960 x 720 px of sheet and its tray put away, as for one who tunes a dial."""

    def __init__(self) -> None:
        self.window = Window()
        self.window.resize(1280, 800)
        self.window.show()

    def live(self, until: Callable[[], bool], most: float = 10.0) -> float:
        """Let the window live until something is so, asleep as long as nothing comes; return how long it was held, in ms."""
        end, longest = time.perf_counter() + most, 0.0
        while not until() and (left := end - time.perf_counter()) > 0:
            QTimer.singleShot(min(1 + int(1000 * left), 4), lambda: None)
            APP.processEvents(WAITING)
            begun = time.perf_counter()
            APP.processEvents()
            longest = max(longest, time.perf_counter() - begun)
        return 1000 * longest

    def open(self, work: Work) -> None:
        """Open a work and let it come to rest."""
        self.window.show_work(work)
        assert self.window.studio is not None
        self.window.studio.want_tray(False)
        if self.window.studio.strip_shown:
            self.window.studio.strips.close_strip()
        self.rest()

    def rest(self) -> None:
        """Let everything be shown and measured."""
        studio = self.window.studio
        assert studio is not None
        self.live(lambda: studio.settled)
        quiet = time.perf_counter() + 0.6
        self.live(lambda: time.perf_counter() > quiet)

    def row(self, rule: str, dial: str) -> NumberRow:
        """The row of a number, its card open."""
        studio = self.window.studio
        assert studio is not None
        studio.choose_layer(rule.split("-")[0])
        studio.chain.open(rule)
        self.rest()
        form = studio.chain.cards[rule].form
        assert form is not None
        row = form.rows[dial]
        assert isinstance(row, NumberRow)
        return row

    def presses(self, label: str, rule: str, dial: str) -> None:
        """Print how long pictures take that a key asks for, one after the other."""
        studio, field = self.window.studio, self.row(rule, dial).fields[0]
        assert studio is not None
        field.setFocus()
        waits = []
        for k in range(PRESSES):
            begun = time.perf_counter()
            QTest.keyClick(field, Qt.Key.Key_Up if k % 2 == 0 else Qt.Key.Key_Down)
            self.live(lambda: studio.shown >= studio.asked)
            APP.processEvents()  # the sheet draws it
            waits.append(1000 * (time.perf_counter() - begun))
            pause = time.perf_counter() + 0.25
            self.live(lambda: time.perf_counter() > pause)  # noqa: B023  asked at once
        ordered = sorted(waits)
        print(f"{label}: {statistics.median(waits):.0f} ms, 95 of 100 within {ordered[int(0.95 * len(ordered))]:.0f}", flush=True)

    def dragged(self, label: str, rule: str, dial: str) -> None:
        """Print how many pictures a slider shows that is dragged, how long each is waited for, and how long the window is held."""
        row, studio = self.row(rule, dial), self.window.studio
        assert studio is not None
        assert row.slider is not None
        shown: list[float] = []
        turned: list[tuple[int, float]] = []
        waits: list[float] = []

        def painted() -> None:
            now = time.perf_counter()
            shown.append(now)
            waits.extend(1000 * (now - at) for number, at in turned if number == studio.shown)

        studio.painted.connect(painted)
        slider, y = row.slider, row.slider.height() // 2
        QTest.mousePress(slider, Qt.MouseButton.LeftButton, pos=slider.rect().center())
        begun, longest, k = time.perf_counter(), 0.0, 0
        while (now := time.perf_counter()) < begun + DRAGGED:
            k += 1
            at = slider.rect().center()
            at.setX(at.x() + int(34 * abs((now - begun) % 1 - 0.5)))
            at.setY(y)
            QTest.mouseMove(slider, at)
            turned.append((studio.asked, time.perf_counter()))
            beat = time.perf_counter() + 0.016
            longest = max(longest, self.live(lambda: time.perf_counter() > beat))  # noqa: B023  asked at once
        QTest.mouseRelease(slider, Qt.MouseButton.LeftButton, pos=slider.rect().center())
        studio.painted.disconnect(painted)
        wait = statistics.median(waits) if waits else float("nan")
        print(
            f"{label}: {len(shown)} pictures in {DRAGGED:.0f} s, median wait {wait:.0f} ms, held {longest:.0f} ms at most",
            flush=True,
        )


def floor(size: float, *more: Rule) -> Work:
    """Return a floor of hexagons."""
    return Work(design=Design(layers=(chain("Floor", Polygon(size=size), *more, Ink(colours="chance"), Lattice()),)))


def main() -> None:
    """Print the figures."""
    bench = Bench()
    bench.live(lambda: False, 3.0)
    for label, work, rule, dial in (
        ("key to picture, 150 copies", floor(28.0), "floor-motif", "size"),
        ("key to picture, 5,000 copies", floor(4.8), "floor-motif", "size"),
        ("key to picture, 20,000 copies", floor(2.4), "floor-motif", "size"),
        ("key to picture, 20,000 pushed", floor(2.4, PushEdges(amount=0.4)), "floor-push-edges", "amount"),
    ):
        bench.open(work)
        assert bench.window.studio is not None
        bench.presses(f"{label} ({bench.window.studio.facts.copies:,})", rule, dial)
    for name, rule, dial in (
        ("entrance-floor", "floor-motif", "size"),
        ("wash-room-tiles", "petals-motif", "width"),
        ("festival-poster", "whirls-motif", "size"),
    ):
        bench.open(demo(name))
        bench.dragged(f"dragged, {name}", rule, dial)
    bench.window.document = None
    bench.window.close()


if __name__ == "__main__":
    main()
