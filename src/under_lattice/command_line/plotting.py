"""``under-lattice plot``: a work drawn by a pen plotter at a port, or by the simulated one."""

from __future__ import annotations

import subprocess
import sys
from argparse import ArgumentParser, Namespace
from pathlib import Path

from under_lattice.command_line.options import add_options, format_of
from under_lattice.command_line.rendering import load
from under_lattice.command_line.saying import say, warn
from under_lattice.core.errors import InputError
from under_lattice.output.page import job_of
from under_lattice.plotter.sender import Port, Sender, orders_of

SIMULATED = "simulated"
SHARES = 10  # times on the way that it says how far it is


def add_plot(order: ArgumentParser) -> None:
    """Put the options of ``plot`` on an order."""
    order.add_argument("file")
    order.add_argument("--port", required=True, help=f"a serial device, HOST:PORT, or “{SIMULATED}”")
    order.add_argument("--set", action="append", default=[], metavar="LAYER.RULE.NUMBER=VALUE", help="turn one dial first")
    order.add_argument("--skip", type=int, default=0, metavar="N", help="so many lines, which are drawn already")
    order.add_argument("--times", type=float, default=20.0, help="how many times as fast as a real one the simulated one is")
    add_options(order)


def plot(options: Namespace) -> None:
    """Send a work to a plotter; what keeps it from drawing is said with how many lines are drawn.

    Raises
    ------
    LatticeError
    """
    chosen = format_of(Namespace(**vars(options) | {"form": "hpgl", "out": Path("plot.hpgl")}))
    work = load(options.file, options.set)
    chosen, job = job_of(work, chosen)
    for sentence in chosen.notes(work.design):
        warn(sentence)
    orders = orders_of(chosen.write(job))
    if not 0 <= options.skip <= len(orders):
        raise InputError(f"--skip takes 0 to {len(orders)}")
    step = max(1, len(orders) // SHARES)

    def told(drawn: int) -> None:
        if drawn % step == 0 or drawn == len(orders):
            say(f"{drawn} of {len(orders)} lines")

    sender = Sender(orders, options.skip, told=told)
    if options.port != SIMULATED:
        _send(sender, options.port)
        return
    order = [sys.executable, "-P", "-m", "under_lattice.plotter", "--times", str(options.times)]
    with subprocess.Popen(order, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as machine:
        assert machine.stdout is not None
        try:
            _send(sender, machine.stdout.readline().strip())
        finally:
            machine.terminate()


def _send(sender: Sender, name: str) -> None:
    port = Port(name)
    try:
        sender.send(port)
    except KeyboardInterrupt:
        say(f"stopped; go on with --skip {sender.drawn}")
    finally:
        port.close()
