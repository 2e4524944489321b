"""What is opened or brought in while it is read: said at the foot of the window once it takes a moment, with a way to stop it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from under_lattice.core.progress import Progress
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.workers.worker import Job, Urgency, worker

SHOWN_AFTER_MS = 300


class ReadingBar(QWidget):
    """Reads files off the interface thread; one that is stopped changes nothing."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("facts")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("Files that are being read")
        self.titles: dict[Job, str] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 4, 24, 4)
        row.setSpacing(12)
        self.words, self.bar, self.stop_button = Words(""), QProgressBar(), QPushButton("Stop")
        self.bar.setRange(0, 1000)
        self.bar.setMaximumWidth(px(240))
        self.bar.setAccessibleName("How much of the file is read")
        self.stop_button.setToolTip("Stop reading; nothing is changed")
        self.stop_button.clicked.connect(self.stop)
        for part, stretch in ((self.words, 0), (self.bar, 1), (self.stop_button, 0)):
            row.addWidget(part, stretch)
        row.addStretch(1)
        self._soon = QTimer(self, singleShot=True, interval=SHOWN_AFTER_MS)
        self._soon.timeout.connect(self._show)
        self.hide()

    def read(self, title: str, read: Callable[[Progress], Any], done: Callable[[Any], None], failed: Callable[[str], None]) -> Job:
        """Read what is called `title`; `done` gets it, or `failed` a sentence, which is empty when it was stopped."""
        job = Job(
            f"read {id(read)}", Urgency.LOOKED_AT, read, lambda answer: self._ended(job, done, answer),
            lambda sentence: self._ended(job, failed, sentence), lambda _, share: self._tell(job, share), owner=self,
        )  # fmt: skip
        self.titles[job] = title
        self.bar.setValue(0)
        self._soon.start()
        return worker().ask(job)

    def stop(self) -> None:
        """Stop all that is being read."""
        for job in list(self.titles):
            worker().cancel(job)

    def _ended(self, job: Job, tell: Callable[[Any], None], answer: Any) -> None:
        self.titles.pop(job, None)
        self._show()
        tell(answer)

    def _tell(self, job: Job, share: float) -> None:
        if job is next(iter(self.titles), None):
            self.bar.setValue(round(1000 * share))

    def _show(self) -> None:
        self.setVisible(bool(self.titles))
        if self.titles:
            self.words.setText(f"Reading {next(iter(self.titles.values()))}")
