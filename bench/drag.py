"""How long the interface thread is held while a number of a work with 20,000 copies is dragged for two seconds.

The other of the two things compared is the same window at rest.
"""

import os
import time
from itertools import pairwise

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QTimer

from under_lattice.library.layers import chain
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
from under_lattice.work.edits import set_dial
from under_lattice.work.model import Design, Work


def main() -> None:
    app = make_application()
    layer = chain("Floor", Polygon(size=2.4), Ink(colours="chance"), Lattice())
    window = Window()
    window.show_work(Work(design=Design(layers=(layer,))))
    window.show()
    beats: list[float] = []
    timer = QTimer(interval=0)
    timer.timeout.connect(lambda: beats.append(time.perf_counter()))

    def spin(seconds: float, turn: bool) -> tuple[float, int]:
        """Let the loop run; longest time between two beats in ms, and pictures shown."""
        beats.clear()
        pictures = 0

        def count() -> None:
            nonlocal pictures
            pictures += 1

        assert window.studio is not None
        assert window.document is not None
        window.studio.painted.connect(count)
        end, visit, k = time.perf_counter() + seconds, object(), 0
        timer.start()
        while time.perf_counter() < end:
            app.processEvents()
            if turn and len(beats) % 20 == 0:
                k += 1
                window.document.apply("drag", set_dial(window.document.design, "floor", "floor-lattice", "turn", k * 0.1), visit)
            time.sleep(0.001)
        timer.stop()
        window.studio.painted.disconnect(count)
        gaps = [after - before for before, after in pairwise(beats)]
        return 1000 * max(gaps), pictures

    spin(4.0, False)
    assert window.studio is not None
    print(f"{window.studio.facts.copies:,} copies")
    roaming = window.studio.tray.siblings.roaming
    for label, turn in (("at rest", False), ("dragged", True), ("dragged while siblings are dealt", True)):
        if label.endswith("dealt"):
            window.studio.tray.show()
            roaming.deal_again()
        else:
            window.studio.tray.hide()
        longest, pictures = spin(2.0, turn)
        print(f"{label:34} interface held for {longest:5.1f} ms at most, {pictures} pictures in 2 s")
    assert window.document is not None
    window.document.undo()
    window.close()


if __name__ == "__main__":
    main()
