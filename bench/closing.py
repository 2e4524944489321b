"""Closing the window while works of absurd sizes are being worked out: seconds until the process has ended.

python bench/closing.py
"""

import os
import subprocess
import sys
import time

from absurd import CASES

from under_lattice.work.model import Work

LONGEST = 60  # s


def opened(name: str, after: float) -> int:
    """Open a work in the window, close it after so many seconds, and return the exit code."""
    from PySide6.QtCore import QTimer
    from PySide6.QtWidgets import QApplication

    from under_lattice.ui.window import application
    from under_lattice.ui.window.window import Window

    design, show = CASES[name](), Window.show

    def close() -> None:
        print(time.time(), flush=True)
        QApplication.closeAllWindows()

    def shown(window: Window) -> None:
        show(window)
        QTimer.singleShot(200, lambda: window.show_work(Work(design=design)))
        QTimer.singleShot(round(1000 * after), close)

    Window.show = shown  # type: ignore[method-assign, assignment]
    return application.run([])


def main() -> None:
    """Print how long each end took."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    for name in CASES:
        for after in (2.0, 6.0):
            asked = [sys.executable, __file__, name, str(after)]
            try:
                found = subprocess.run(asked, timeout=LONGEST, capture_output=True, text=True, check=False)
                print(f"{name}, closed after {after:.0f} s: ended {time.time() - float(found.stdout):.1f} s later", flush=True)
            except (subprocess.TimeoutExpired, ValueError):
                print(f"{name}, closed after {after:.0f} s: not ended within {LONGEST} s", flush=True)


if __name__ == "__main__":
    if len(sys.argv) > 2:
        sys.exit(opened(sys.argv[1], float(sys.argv[2])))
    main()
