"""The line of exports: one is written after the other, while one goes on working; it stands at the foot of the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton, QWidget

from under_lattice.core.progress import Progress
from under_lattice.ui.look.foot_line import FootLine
from under_lattice.ui.workers.worker import Job, Urgency, worker

FAULT = "this could not be written ({}); nothing was changed on the disk"


@dataclass(eq=False)
class Export:
    """One export.

    Attributes
    ----------
    title : str
        What is written, in words.
    written : callable
        Writes it, in a thread of the worker, and returns what there is to say of it.
    done, failed, told : callable
        Called with those words, with a sentence (empty when it was stopped), or with the share that is done, 0..1.
    alone : bool
        Its page is closed.
    """

    title: str
    written: Callable[[Progress], str]
    done: Callable[[str], None] = lambda _: None
    failed: Callable[[str], None] = lambda _: None
    told: Callable[[float], None] = lambda _: None
    alone: bool = False
    share: float = 0.0
    job: Job | None = None


class ExportsBar(FootLine):
    """Writes exports one after the other, and shows those whose page is closed."""

    finished, failed = Signal(str), Signal(str)  # of those whose page is closed

    def __init__(self, parent: QWidget | None = None) -> None:
        stops = "Stop what is being written; nothing of it is left"
        super().__init__("Exports under way", "How much of the export is written", stops, parent)
        self.exports: list[Export] = []
        self.stop_button.clicked.connect(lambda: self.stop(self.exports[0]))
        self.all_button = QPushButton("Stop all")
        self.all_button.clicked.connect(self.stop_all)
        self.line.insertWidget(self.line.indexOf(self.stop_button) + 1, self.all_button)

    def add(self, export: Export) -> Export:
        """Take an export; it is written once those before it are."""
        self.exports.append(export)
        self._go_on()
        return export

    def waits_for(self, export: Export) -> str:
        """Return what is written before an export is, or nothing."""
        return self.exports[0].title if export in self.exports[1:] else ""

    def leave(self, export: Export) -> None:
        """Go on with an export whose page is closed: what comes of it is told by the window."""
        export.alone = True
        export.done, export.failed, export.told = self.finished.emit, self._say_failed, lambda _: None
        self._show()

    def stop(self, export: Export) -> None:
        """Stop an export, or take it out of the line."""
        if export.job is not None:
            worker().cancel(export.job)
        elif export in self.exports:
            self.exports.remove(export)
            export.failed("")
            self._show()

    def stop_all(self) -> None:
        """Stop what is written, and let nothing that waits begin."""
        for export in reversed(self.exports):
            self.stop(export)

    def _say_failed(self, sentence: str) -> None:
        if sentence:
            self.failed.emit(sentence)

    def _go_on(self) -> None:
        if self.exports and self.exports[0].job is None:
            one = self.exports[0]
            one.job = Job(
                f"export {id(one)}", Urgency.ASKED_FOR, one.written, lambda words: self._ended(one, lambda: one.done(words)),
                lambda sentence: self._ended(one, lambda: one.failed(sentence)), lambda _, share: self._tell(one, share),
                owner=self, fault=FAULT,
            )  # fmt: skip
            worker().ask(one.job)
        self._show()

    def _ended(self, export: Export, tell: Callable[[], None]) -> None:
        self.exports.remove(export)
        tell()
        self._go_on()

    def _tell(self, export: Export, share: float) -> None:
        export.share = share
        export.told(share)
        self._show()

    def _show(self) -> None:
        """Show what is under way, if the page of any is closed."""
        self.setVisible(any(one.alone for one in self.exports))
        if self.exports:
            more = len(self.exports) - 1
            self.words.setText(
                f"Exporting {self.exports[0].title}" + (f", {more} more {'waits' if more == 1 else 'wait'}" if more else "")
            )
            self.show_share(self.exports[0].share)
            self.all_button.setVisible(more > 0)
