"""What sends lines to a plotter: waits where it must, knows which lines are drawn, and goes on where it stopped."""

from __future__ import annotations

import os
import re
import select
import socket
import time
import tty
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from under_lattice.core.errors import LatticeError
from under_lattice.plotter.machine import DRY, PAPER, STARTED

AHEAD = 6  # lines that are sent before the first of them is known to be drawn
TICK = 0.05  # s, between two looks at whether to go on
SILENT = 30.0  # s without a word after which a plotter is said not to answer
CHUNK = 64  # bytes written at a time, so that stopping is quick


class PlotterError(LatticeError):
    """What keeps a plotter from drawing, in a sentence; the sender can go on once it is put right."""


@dataclass(frozen=True)
class PenOrder:
    """One line for a pen, as orders."""

    pen: int
    text: bytes


def orders_of(data: bytes) -> list[PenOrder]:
    """Return the lines of an HPGL file, each with its pen."""
    out, pen = [], 0
    for order in re.findall(rb"SP\d{1,2};|PU[-\d,]+;PD[-\d,]+;", data):
        if order.startswith(b"SP"):
            pen = int(order[2:-1])
        else:
            out.append(PenOrder(pen, order))
    return out


class Port:
    """A serial device by its path, or ``HOST:PORT``; the simulated plotter and a real one alike.

    Raises
    ------
    PlotterError
        When there is no such port.
    """

    def __init__(self, name: str) -> None:
        self.name = name
        host, colon, number = name.rpartition(":")
        self._socket: socket.socket | None = None
        try:
            if colon and number.isdigit() and not name.startswith("/"):
                self._socket = socket.create_connection((host, int(number)), timeout=5.0)
                self._socket.setblocking(False)
                self._file = self._socket.fileno()
            else:
                self._file = os.open(name, os.O_RDWR | os.O_NOCTTY | os.O_NONBLOCK)
                if os.isatty(self._file):
                    tty.setraw(self._file)
        except OSError as error:
            raise PlotterError(f"{name} cannot be opened: {error.strerror or error}") from None

    def write(self, data: bytes, wait: float) -> int:
        """Write what is taken within so many s, and return how many bytes."""
        _, ready, _ = select.select([], [self._file], [], wait)
        try:
            return os.write(self._file, data) if ready else 0
        except BlockingIOError:
            return 0
        except OSError as error:
            raise PlotterError(f"{self.name} is gone: {error.strerror}") from None

    def read(self, wait: float) -> bytes:
        """Return what is said within so many s."""
        ready, _, _ = select.select([self._file], [], [], wait)
        try:
            return os.read(self._file, 256) if ready else b""
        except BlockingIOError:
            return b""
        except OSError as error:
            raise PlotterError(f"{self.name} is gone: {error.strerror}") from None

    def close(self) -> None:
        """Let it go."""
        if self._socket is not None:
            self._socket.close()
        else:
            os.close(self._file)


@dataclass
class Sender:
    """Sends lines one after the other.

    Attributes
    ----------
    orders : sequence of PenOrder
    drawn : int
        How many of them are known to be drawn; where it goes on.
    stop, pause : callable
        Whether to stop, and whether to wait.
    told : callable
        Given `drawn`, each time it grows.
    """

    orders: Sequence[PenOrder]
    drawn: int = 0
    stop: Callable[[], bool] = lambda: False
    pause: Callable[[], bool] = lambda: False
    told: Callable[[int], None] = lambda drawn: None
    silent: float = SILENT
    _said: bytearray = field(default_factory=bytearray)
    _heard: float = 0.0

    def send(self, port: Port) -> bool:
        """Send what is not drawn yet; tells whether all is drawn, or it was stopped before.

        Raises
        ------
        PlotterError
            When paper or pen is out, the power was lost or nothing is answered; what is drawn is known, and `send` goes on there.
        """
        if not self._begun(port):
            return False
        pen, sent = 0, self.drawn
        while self.drawn < len(self.orders):
            if self.stop():
                return False
            if sent < len(self.orders) and sent - self.drawn < AHEAD and not self.pause():
                order = self.orders[sent]
                change = f"SP{order.pen};".encode() if order.pen != pen else b""
                if not self._out(port, change + order.text + b"OA;"):
                    return False
                pen, sent = order.pen, sent + 1
            waits = sent - self.drawn >= AHEAD or sent == len(self.orders) or self.pause()
            self._hear(port, TICK if waits else 0.0)
            if sent == self.drawn:
                self._heard = time.monotonic()  # nothing is asked
            elif time.monotonic() - self._heard > self.silent:
                raise PlotterError(f"{port.name} does not answer; {self._done()}")
        return self._out(port, b"PU;SP0;")

    def _begun(self, port: Port) -> bool:
        """Ask the plotter who it is, and wait for that: what it says before is of lines that were sent before; tells of no stop."""
        self._heard, state, said = time.monotonic(), 0, b""
        data = b"IN;OI;"
        while not any(one.isalpha() for one in said.split(b"\r")[:-1]):
            if self.stop():
                return False
            data = data[port.write(data, 0.0) :] if data else b""
            said += port.read(TICK)
            told = [one for one in said.split(b"\r")[:-1] if one.isdigit()]
            state = int(told[-1]) if told else state
            if time.monotonic() - self._heard > self.silent:
                self._check(state & ~STARTED)
                raise PlotterError(f"{port.name} does not answer; {self._done()}")
        self._said.clear()
        return True

    def _done(self) -> str:
        return f"{self.drawn} of {len(self.orders)} lines are drawn"

    def _hear(self, port: Port, wait: float) -> None:
        """Take what the plotter says: its place once a line is drawn, or how it is when something is wrong."""
        self._said += port.read(wait)
        *whole, rest = bytes(self._said).split(b"\r")
        self._said[:] = rest
        for one in whole:
            self._heard = time.monotonic()
            if b"," in one:
                self.drawn += 1
                self.told(self.drawn)
            elif one.isdigit():
                self._check(int(one))

    def _check(self, state: int) -> None:
        if state & STARTED:
            raise PlotterError(f"the plotter was switched off and on again; {self._done()}")
        if state & PAPER:
            raise PlotterError(f"there is no paper; {self._done()}")
        if state & DRY:
            raise PlotterError(f"the pen is dry; {self._done()}")

    def _out(self, port: Port, data: bytes) -> bool:
        """Write all of some orders, however long the plotter makes us wait; tells whether it was not stopped."""
        while data:
            if self.stop():
                return False
            count = port.write(data[:CHUNK], TICK)
            data = data[count:]
            if count:
                self._heard = time.monotonic()
            self._hear(port, 0.0)
            if time.monotonic() - self._heard > self.silent:
                raise PlotterError(f"{port.name} takes nothing; {self._done()}")
        return True
