"""``under-lattice``: no arguments open the window; an order needs none. Neither loads what only the other uses."""

from __future__ import annotations

import sys
import threading
from collections.abc import Sequence
from contextlib import suppress
from importlib import import_module

ORDERS = ("render", "film", "plot", "facts", "rules", "siblings", "strip")


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command and return its exit code: 0 done, 1 refused with a message, 2 called wrongly."""
    args = list(sys.argv[1:] if arguments is None else arguments)
    if args and args[0] in (*ORDERS, "-h", "--help", "--version"):
        from under_lattice.command_line.main import main as order

        return order(args)
    make_ready()
    return int(import_module("under_lattice.ui.window.application").run(args))  # a sibling part


def make_ready() -> None:
    """Load what the window computes with, and the kernels beside what is loaded after that.

    Qt for Python reads the source of each module that is loaded after it, so what does not use it comes first.
    """
    from under_lattice.render.warm import is_warm, paint_small

    import_module("under_lattice.library")

    def load() -> None:
        with suppress(Exception):  # whoever paints meets it again, and says so
            paint_small()

    if is_warm():
        threading.Thread(target=load, name="kernels").start()
