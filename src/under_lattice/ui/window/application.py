"""The application with its window: arguments, theme, face of type."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Sequence
from importlib import import_module
from importlib.resources import files
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QApplication

from under_lattice.core.progress import QUIET, Progress
from under_lattice.library import DEMOS, demo
from under_lattice.ui.look import accessible, style
from under_lattice.ui.look.tokens import LOOK
from under_lattice.ui.state import recent
from under_lattice.ui.window.ending import WITHIN, Ending
from under_lattice.ui.window.faults import Faults
from under_lattice.ui.window.window import Window, dress_all
from under_lattice.ui.workers.collector import Collector
from under_lattice.ui.workers.worker import Job, Urgency, worker

LATER = (  # what the window first needs when somebody asks for it
    "output", "files.svg.shapes", "ui.tray.tray", "ui.strips.picked_panel", "ui.strips.strip_page", "ui.loop.string_panel",
    "ui.export.export_dialog", "ui.sheet.mix_bar", "ui.sheet.repeat_bar", "ui.plotting.plot_dialog",
)  # fmt: skip


def parser() -> argparse.ArgumentParser:
    """Return the grammar of the window's arguments."""
    top = argparse.ArgumentParser(
        prog="under-lattice", description="Opens the window. Orders without a window: render, facts, rules."
    )
    top.add_argument("file", nargs="?", help="a .lattice file, or an SVG or PNG with its recipe")
    top.add_argument("--demo", nargs="?", const="entrance-floor", choices=sorted(DEMOS), help="open a demo work")
    top.add_argument("--theme", choices=("light", "dark", "desktop"), help="colours of the window")
    return top


def make_application(arguments: Sequence[str] = ()) -> QApplication:
    """Return the application, dressed."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["under-lattice", *arguments])
    sys.setswitchinterval(0.00005)  # s: threads let go of the interpreter soon enough for the hand not to notice
    app.setApplicationName("under-lattice")
    app.setApplicationDisplayName("Under Lattice")
    app.setDesktopFileName("org.under_lattice.Studio")
    app.setStyle("Fusion")
    accessible.install()
    style.load_face()
    style.dress(app)
    app.setWindowIcon(_icon())
    gc.freeze()  # what is loaded by now is not looked through again, which would hold the interface for a tenth of a second
    return app


def _icon() -> QIcon:
    pixmap = QPixmap()
    pixmap.loadFromData((files("under_lattice.ui.window") / "under-lattice.png").read_bytes())
    return QIcon(pixmap)


def run(arguments: Sequence[str]) -> int:
    """Open the window and return the exit code when it is closed."""
    options = parser().parse_args(list(arguments))
    if not _has_display():
        print("under-lattice: there is no display to open a window on. Orders without one: render, facts, rules", file=sys.stderr)
        return 1
    LOOK.wish = options.theme or recent.theme()
    app = make_application()
    windows: list[Window] = []

    def another() -> Window:
        made = Window(lambda: another().show())
        made.show_book()
        windows[:] = [one for one in windows if one.isVisible()]
        made.move(made.pos() + QPoint(32, 32) * len(windows))
        windows.append(made)
        return made

    window = Window(lambda: another().show())
    windows.append(window)
    window.desktop.restore()
    hints = app.styleHints()
    hints.colorSchemeChanged.connect(lambda _: dress_all())
    hints.accessibility().contrastPreferenceChanged.connect(lambda _: dress_all())
    if options.demo:
        window.show_work(demo(options.demo))
    else:
        window.show_book()
        if options.file:
            window.files.open_path(Path(options.file))
    window.show()
    window.offer_unsaved(silent=True)
    worker().ask(Job("what comes later", Urgency.REST, load_later))
    collector = Collector(app)
    ending = Ending(app, app.closeAllWindows, lambda: keep_all(windows))
    faults = Faults(lambda sentence: say_in_front(windows, sentence))
    answer = app.exec()
    ending.stop()
    faults.stop()
    if not worker().finish(WITHIN):  # what a thread still paints would be taken from under it
        os._exit(answer)
    collector.stop()
    return answer


def load_later(progress: Progress = QUIET) -> None:
    """Load what comes later, before it is asked for."""
    for name in LATER:
        progress.check()
        import_module(f"under_lattice.{name}")
    import_module("under_lattice.explore.movable").plain_motifs()  # each is drawn once, which the first deal would wait for


def say_in_front(windows: list[Window], sentence: str) -> None:
    """Say something in the window that is in use."""
    shown = [one for one in windows if one.isVisible()]
    front = next((one for one in shown if one.isActiveWindow()), shown[-1] if shown else None)
    if front is not None:
        front.say(sentence)


def keep_all(windows: list[Window]) -> None:
    """Keep all that is unsaved in any window."""
    for one in windows:
        one.autosave.flush()


def _has_display() -> bool:
    chosen = os.environ.get("QT_QPA_PLATFORM", "")
    return bool(chosen) or bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))
