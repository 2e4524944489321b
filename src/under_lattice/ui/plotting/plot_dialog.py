"""Plot: the work drawn by a plotter at a port, or by the simulated one; pause, stop, faults, and going on where it stopped."""

from __future__ import annotations

import subprocess
import sys
import threading

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.core.units import convert
from under_lattice.output.format import Format, Job
from under_lattice.output.page import job_of
from under_lattice.output.plot.plotter import Hpgl
from under_lattice.plotter.machine import FAULTS
from under_lattice.plotter.sender import PenOrder, PlotterError, Port, Sender, orders_of
from under_lattice.ui.export.option_rows import OptionRows
from under_lattice.ui.look.edged import Dialog
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words
from under_lattice.ui.plotting.plot_view import PlotLine, PlotView, seconds_of
from under_lattice.ui.workers import worker as jobs
from under_lattice.work.model import Work

SIMULATED, TIMES = "simulated", 20.0  # the plotter that ships with the program, so many times as fast as one
FORM_WIDTH = 320
FAULT = "this could not be plotted ({})"


class PlotDialog(Dialog):
    """What is drawn at the left with the port, the sheet at the right."""

    def __init__(self, work: Work, parent: QWidget, moment: float = 0.0) -> None:
        super().__init__(parent)
        self.setWindowTitle("Plot")
        self.work, self.moment = work, moment  # of the loop, 0..1
        sheet = work.design.sheet
        last = work.export
        begun = Hpgl.first(sheet)
        self.options: Format = begun.with_options(last.options) if last is not None and last.ending == "hpgl" else begun
        self.orders: list[PenOrder] = []
        self.sending: Sender | None = None
        self._machine: subprocess.Popen[str] | None = None
        self._stop, self._pause = threading.Event(), threading.Event()
        self._mm = convert(1.0, sheet.unit, "mm", sheet.resolution)
        self.words, self.error = Words(""), Words("")
        self._lay_out()
        self._look()

    # -- parts -----------------------------------------------------------------------------------
    def _lay_out(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 16, 16, 16)
        row.setSpacing(16)
        row.addWidget(self._form())
        row.addLayout(self._seen(), 1)
        self.resize(px(900), px(620))
        self._show_state()

    def _form(self) -> QWidget:
        form = QWidget()
        form.setFixedWidth(px(FORM_WIDTH))
        column = QVBoxLayout(form)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.rows = OptionRows(self.options, self.work.design)
        self.rows.turned.connect(self._turn)
        self.rows.refused.connect(lambda sentence: self.error.setText(sentence))
        column.addWidget(self.rows)
        column.addStretch(1)
        port = QHBoxLayout()
        port.addWidget(Words("Port"))
        self.port = QLineEdit(SIMULATED)
        self.port.setAccessibleName("Port")
        self.port.setToolTip("“simulated”, a serial device such as /dev/ttyUSB0, or HOST:PORT")
        port.addWidget(self.port, 1)
        self.fault = QPushButton("Fault…")
        self.fault.setAutoDefault(False)
        self.fault.setToolTip("Let something go wrong with the simulated plotter")
        self.fault.clicked.connect(self._offer_faults)
        port.addWidget(self.fault)
        column.addLayout(port)
        return form

    def _seen(self) -> QVBoxLayout:
        right = QVBoxLayout()
        sheet = self.work.design.sheet
        self.view = PlotView(sheet.width, sheet.height)
        right.addWidget(self.view, 1)
        self.words.setObjectName("small")
        self.error.setObjectName("error")
        for words in (self.words, self.error):
            words.setWordWrap(True)
            right.addWidget(words)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        self.close_button, self.pause, self.go = QPushButton("Close"), QPushButton("Pause"), QPushButton("Plot")
        self.close_button.clicked.connect(self.reject)
        self.pause.clicked.connect(self._turn_pause)
        self.go.setObjectName("primary")
        self.go.setDefault(True)
        self.go.clicked.connect(self._begin_or_stop)
        for button in (self.close_button, self.pause, self.go):
            buttons.addWidget(button)
        right.addLayout(buttons)
        return right

    def _turn(self, name: str, value: object) -> None:
        self.error.setText("")
        try:
            self.options = self.options.turned(name, value)
        except InputError as error:
            self.error.setText(str(error))
        self.rows.show_options(self.options)
        self._look()

    def _look(self) -> None:
        """Work out what would be drawn."""
        work, options, moment = self.work, self.options, self.moment

        def found(progress: Progress) -> tuple[list[PenOrder], list[PlotLine], tuple[float, float]]:
            chosen, job = job_of(work, options, progress, time=moment)
            assert isinstance(chosen, Hpgl)
            plot = chosen.plot(job.scene, job.sheet, progress)
            lines = [PlotLine(line, k, pen.colour) for k, pen in enumerate(plot.pens, 1) for line in pen.lines]
            orders = orders_of(chosen.file(plot, Job(job.scene, job.sheet)))
            return orders, lines, (job.sheet.width, job.sheet.height)

        urgency = jobs.Urgency.LOOKED_AT
        jobs.worker().ask(jobs.Job(f"plot {id(self)}", urgency, found, self._show_found, self._complain, owner=self, fault=FAULT))

    def _show_found(self, found: tuple[list[PenOrder], list[PlotLine], tuple[float, float]]) -> None:
        self.orders, lines, self.view.page = found
        self.sending = None
        self.view.show_lines(lines)
        self._seconds = seconds_of(lines, self._mm)
        self._show_drawn(0)
        self._show_state()

    # -- drawing ---------------------------------------------------------------------------------
    @property
    def running(self) -> bool:
        """Whether lines are being sent."""
        return self.sending is not None and not self._stop.is_set() and self.go.text() == "Stop"

    def _begin_or_stop(self) -> None:
        if self.running:
            self._stop.set()
            self.go.setEnabled(False)
            return
        self.error.setText("")
        self._stop.clear()
        self._pause.clear()
        drawn = self.sending.drawn if self.sending is not None and self.sending.drawn < len(self.orders) else 0
        self.sending = Sender(self.orders, drawn, self._stop.is_set, self._pause.is_set, self._tell_drawn)
        self._show_drawn(drawn)
        self.go.setText("Stop")
        self._show_state()
        threading.Thread(target=self._send, args=(self.sending, self.port.text().strip()), name="plot", daemon=True).start()

    def _send(self, sender: Sender, name: str) -> None:
        """Send all lines, in a thread of its own."""
        try:
            port = Port(self._simulated() if name == SIMULATED else name)
        except PlotterError as error:
            self._end(str(error), False)
            return
        try:
            done = sender.send(port)
            self._end("" if done else "stopped", done)
        except PlotterError as error:
            self._end(str(error), False)
        finally:
            port.close()

    def _tell_drawn(self, count: int) -> None:
        """Let it be shown how many lines are drawn; called in the thread that sends them."""
        jobs.worker().hand(self, self._show_drawn, count)

    def _end(self, sentence: str, done: bool) -> None:
        jobs.worker().hand(self, self._show_end, sentence, done)

    def _simulated(self) -> str:
        """Start the simulated plotter, if it does not run, and return the name of its port."""
        if self._machine is None or self._machine.poll() is not None:
            order = [sys.executable, "-P", "-m", "under_lattice.plotter", "--times", str(TIMES)]
            self._machine = subprocess.Popen(order, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
            assert self._machine.stdout is not None
            self._name = self._machine.stdout.readline().strip()
        return self._name

    def _turn_pause(self) -> None:
        if self._pause.is_set():
            self._pause.clear()
        else:
            self._pause.set()
        self._show_state()

    def _offer_faults(self) -> None:
        menu = PopupMenu(self)
        for fault in FAULTS:
            menu.addAction(fault, lambda fault=fault: self._tell(f"fail {fault}"))
        menu.addSeparator()
        menu.addAction("all right again", self._mend)
        menu.popup(self.fault.mapToGlobal(self.fault.rect().bottomLeft()))

    def _mend(self) -> None:
        for fault in FAULTS:
            self._tell(f"mend {fault}")

    def _tell(self, line: str) -> None:
        """Tell the simulated plotter something."""
        if self._machine is not None and self._machine.stdin is not None and self._machine.poll() is None:
            self._machine.stdin.write(line + "\n")
            self._machine.stdin.flush()

    # -- showing ---------------------------------------------------------------------------------
    def _show_drawn(self, count: int) -> None:
        self.view.show_drawn(count)
        left = float(self._seconds[count:].sum()) if len(self.orders) else 0.0
        pen = self.view.lines[min(count, len(self.view.lines) - 1)].pen if self.view.lines else 0
        times = TIMES if self.port.text().strip() == SIMULATED else 1.0
        about = f"about {_time_words(left / times)} left" if count < len(self.orders) else "all drawn"
        self.words.setText(f"{count:,} of {len(self.orders):,} lines, pen {pen}; {about}")

    def _show_end(self, sentence: str, done: bool) -> None:
        self.go.setText("Plot again" if done else "Go on")
        self.go.setEnabled(True)
        self._pause.clear()
        self.error.setText(capital(sentence))
        self._show_state()

    def _complain(self, sentence: str) -> None:
        if sentence:
            self.error.setText(capital(sentence))

    def _show_state(self) -> None:
        running = self.running
        self.pause.setEnabled(running)
        self.pause.setText("Go on" if self._pause.is_set() else "Pause")
        self.go.setEnabled(bool(self.orders))
        self.rows.setEnabled(not running)
        self.port.setEnabled(not running)
        self.fault.setVisible(self.port.text().strip() == SIMULATED)

    def done(self, result: int) -> None:
        self._stop.set()
        jobs.worker().drop(self)
        if self._machine is not None:
            self._machine.terminate()
            self._machine.wait(2)
            for end in (self._machine.stdin, self._machine.stdout):
                if end is not None:
                    end.close()
        super().done(result)


def _time_words(seconds: float) -> str:
    """So many seconds in words."""
    return f"{seconds:.0f} s" if seconds < 90 else f"{seconds / 60:.0f} min"
