"""What is opened or brought in while it is read: said at the foot of the window once it takes a moment, with a way to stop it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from under_lattice.core.progress import Progress
from under_lattice.ui.look.foot_line import FootLine
from under_lattice.ui.workers.worker import Job, Urgency, worker

SHOWN_AFTER_MS = 300


class ReadingBar(FootLine):
    """Reads files off the interface thread; one that is stopped changes nothing."""

    def __init__(self, parent: QWidget | None = None) -> None:
        called, how_far = "Files that are being read", "How much of the file is read"
        super().__init__(called, how_far, "Stop reading; nothing is changed", parent)
        self.titles: dict[Job, str] = {}
        self.stop_button.clicked.connect(self.stop)
        self._soon = QTimer(self, singleShot=True, interval=SHOWN_AFTER_MS)
        self._soon.timeout.connect(self._show)

    def read(self, title: str, read: Callable[[Progress], Any], done: Callable[[Any], None], failed: Callable[[str], None]) -> Job:
        """Read what is called `title`; `done` gets it, or `failed` a sentence, which is empty when it was stopped."""
        job = Job(
            f"read {id(read)}", Urgency.LOOKED_AT, read, lambda answer: self._ended(job, done, answer),
            lambda sentence: self._ended(job, failed, sentence), lambda _, share: self._tell(job, share), owner=self,
        )  # fmt: skip
        self.titles[job] = title
        self._soon.start()
        return worker().ask(job)

    def stop(self) -> None:
        """Stop all that is being read."""
        for job in list(self.titles):
            worker().cancel(job)

    def _ended(self, job: Job, tell: Callable[[Any], None], answer: Any) -> None:
        self.titles.pop(job, None)
        self.show_share(0.0)
        self._show()
        tell(answer)

    def _tell(self, job: Job, share: float) -> None:
        if job is next(iter(self.titles), None):
            self.show_share(share)

    def _show(self) -> None:
        self.setVisible(bool(self.titles))
        if self.titles:
            self.words.setText(f"Reading {next(iter(self.titles.values()))}")
