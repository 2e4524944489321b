"""Random edits through the real window: how long each held it, faults, memory, and whether undoing all gives back what was opened.

python -m bench.soak [EDITS] [SEED]
"""

import faulthandler
import os
import sys
import tempfile
import traceback
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
from PySide6.QtWidgets import QMessageBox

from tests.soaking import Soak
from under_lattice.files.storage import to_text
from under_lattice.ui.window.application import load_later, make_application
from under_lattice.ui.window.window import Window
from under_lattice.ui.workers.collector import Collector
from under_lattice.ui.workers.freed import resident
from under_lattice.ui.workers.worker import worker
from under_lattice.work.model import Work


def main(edits: int, seed: int) -> None:
    """Print the counts."""
    for name in ("XDG_STATE_HOME", "XDG_DATA_HOME"):
        os.environ[name] = tempfile.mkdtemp()
    faulthandler.enable()
    make_application()
    load_later()
    collector, window = Collector(), Window()
    soak = Soak(window, seed)
    QMessageBox.exec = lambda box: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
    soak.open_work()
    window.show()
    soak.meter.passes(5.0)  # as long as a person looks at what was opened; what comes later is loaded meanwhile
    soak.meter.held.clear()
    files = len(os.listdir("/proc/self/fd"))
    for k in range(edits):
        try:
            soak.step()
        except Exception:  # of the harness, or of a slot it called; the window would keep it to itself
            traceback.print_exc(limit=-6)
        if (k + 1) % 200 == 0:
            over = ", ".join(f"over {ms} ms {soak.meter.over(ms)}" for ms in (50, 100, 200))
            own = ", ".join(f"over {ms} ms {soak.meter.over_of_its_own(ms)}" for ms in (50, 100, 200))
            print(f"{k + 1} edits: {resident() / 1e6:.0f} MB, held {over}; of its own work {own}", flush=True)
    document = window.document
    assert document is not None
    opened = to_text(Work(design=document.moments[0].design))
    document.go_to(0)
    same = to_text(Work(design=document.work.design)) == opened
    print(f"undoing all gives back what was opened: {same}; open files {files} → {len(os.listdir('/proc/self/fd'))}")
    print(f"done: {dict(soak.done)}\nslowest:", *soak.meter.slowest(), sep="\n  ")
    written = Path(os.environ["XDG_STATE_HOME"]).rglob("faults.txt")
    print("faults:", *(one.read_text()[:8000] for one in written), sep="\n  ")
    window.document = None
    window.close()
    worker().finish(20.0)  # nothing is taken from under what is still painted
    collector.stop()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 2000, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
