"""The simulated plotter as a process of its own: ``python -m under_lattice.plotter [--socket] [--times N]``.

It says the name of its port in a line on stdout, then reads orders there. On stdin it takes a line each: ``fail FAULT``,
``mend FAULT``, ``picture``, which it answers with all that is drawn as JSON, and ``end``.
"""

from __future__ import annotations

import argparse
import json
import os
import pty
import select
import socket
import sys
import time
import tty

from under_lattice.plotter.machine import FAULTS, Machine

TICK = 0.01  # s
READ = 256  # bytes at a time


class _Pty:
    """A pseudo-terminal; what is not read makes who writes wait."""

    def __init__(self) -> None:
        self.ours, self._theirs = pty.openpty()
        tty.setraw(self._theirs)
        self.name = os.ttyname(self._theirs)

    def ready(self) -> int | None:
        """Return what can be read from, if there is anything."""
        return self.ours

    def read(self, most: int) -> bytes:
        """Return what has come."""
        try:
            return os.read(self.ours, most)
        except OSError:
            return b""

    def write(self, data: bytes) -> None:
        """Say something."""
        os.write(self.ours, data)


class _Socket:
    """A port on the loopback; one sender at a time."""

    def __init__(self) -> None:
        self._waits = socket.create_server(("127.0.0.1", 0))
        self._waits.setblocking(False)
        self._own: socket.socket | None = None
        self.name = f"127.0.0.1:{self._waits.getsockname()[1]}"

    def ready(self) -> int | None:
        """Return what can be read from, once somebody has come."""
        if self._own is None:
            try:
                self._own, _ = self._waits.accept()
            except BlockingIOError:
                return None
        return self._own.fileno()

    def read(self, most: int) -> bytes:
        """Return what has come; one who has gone leaves room for the next."""
        assert self._own is not None
        data = self._own.recv(most)
        if not data:
            self._own.close()
            self._own = None
        return data

    def write(self, data: bytes) -> None:
        """Say something."""
        if self._own is not None:
            self._own.sendall(data)


def main() -> None:
    """Serve until stdin ends."""
    grammar = argparse.ArgumentParser(prog="under_lattice.plotter")
    grammar.add_argument("--socket", action="store_true", help="a port on the loopback in place of a pseudo-terminal")
    grammar.add_argument("--times", type=float, default=1.0, help="so many times as fast as a real one")
    options = grammar.parse_args()
    port = _Socket() if options.socket else _Pty()
    print(port.name, flush=True)
    machine, last, orders = Machine(), time.monotonic(), b""
    while True:
        own = port.ready() if machine.room > 0 else None
        waits = [sys.stdin.fileno()] + ([own] if own is not None else [])
        ready, _, _ = select.select(waits, [], [], TICK)
        if sys.stdin.fileno() in ready:
            more = os.read(sys.stdin.fileno(), READ)
            *lines, orders = (orders + more).split(b"\n")
            if not more or not all(_told(machine, line.decode("utf-8", "replace")) for line in lines):
                return
        if own is not None and own in ready:
            machine.feed(port.read(min(machine.room, READ)))
        now = time.monotonic()
        machine.advance(min(now - last, 0.2) * options.times)
        last = now
        if said := machine.replies():
            port.write(said)


def _told(machine: Machine, line: str) -> bool:
    """Do what a line on stdin says; tells whether to go on."""
    word, _, rest = line.strip().partition(" ")
    fault = next((one for one in FAULTS if one == rest), None)
    if word == "fail" and fault is not None:
        machine.fail(fault)
    elif word == "mend" and fault is not None:
        machine.mend(fault)
    elif word == "picture":
        print(json.dumps(machine.drawn), flush=True)
    return word != "end"


if __name__ == "__main__":
    main()
