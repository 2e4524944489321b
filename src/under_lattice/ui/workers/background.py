"""One function off the interface thread, its answer brought back."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject

from under_lattice.ui.workers.worker import Job, Urgency, worker

NUMBERS = itertools.count(1)


def background(owner: QObject, work: Callable[[], Any], done: Callable[[Any], None], failed: Callable[[str], None]) -> Job:
    """Do `work` off the interface thread.

    Parameters
    ----------
    owner : QObject
        Nothing is brought back once it is gone.
    work : callable
        May refuse with a `LatticeError`.
    done, failed : callable
        Called on the interface thread with what `work` returned, or with the sentence of a refusal.
    """
    slot = f"background {next(NUMBERS)}"
    return worker().ask(Job(slot, Urgency.LOOKED_AT, lambda _: work(), done, failed, owner=owner))
