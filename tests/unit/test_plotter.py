"""The simulated plotter and what sends to it: times of moves, flow control, faults at will, going on where it stopped."""

import json
import subprocess
import sys
import threading
import time

import numpy as np
import pytest
import shapely

from under_lattice.command_line.main import main
from under_lattice.library import demo
from under_lattice.output.page import job_of
from under_lattice.output.plot.plotter import Hpgl
from under_lattice.plotter.machine import ACCELERATION, BUFFER, SPEED, Machine, duration, way_at
from under_lattice.plotter.sender import PenOrder, PlotterError, Port, Sender, orders_of


def run(machine, seconds, tick=0.01):
    for _ in range(round(seconds / tick)):
        machine.advance(tick)


def test_moves_take_as_long_as_speed_and_acceleration_say():
    assert duration(1000, SPEED, ACCELERATION) == pytest.approx(1000 / 380 + 380 / 4000)
    assert duration(1, SPEED, ACCELERATION) == pytest.approx(2 * np.sqrt(1 / 4000))
    for whole in (0.5, 30.0, 400.0):
        lasts = duration(whole, SPEED, ACCELERATION)
        ways = np.array([way_at(t, whole, SPEED, ACCELERATION) for t in np.linspace(0, lasts, 400)])
        assert (np.diff(ways) >= -1e-9).all()
        assert (ways[0], ways[-1]) == (0.0, pytest.approx(whole))
        assert np.diff(ways).max() / (lasts / 399) <= SPEED + 1e-6
        assert ways[200] == pytest.approx(whole / 2, rel=0.02)


def test_orders_move_the_pen_and_say_where_it_is():
    machine = Machine()
    machine.feed(b"IN;SP1;PU400,0;PD400,400,0,400;OA;PU;OS;")
    machine.advance(1.2)
    assert machine.place == (0.0, 0.0)  # the pen is fetched first
    run(machine, 3)
    assert machine.drawn == [(1, [(10.0, 0.0), (10.0, 10.0), (0.0, 10.0)])]
    assert machine.replies() == b"0,400,1\r16\r"
    assert not machine.busy


def test_the_buffer_is_small_and_makes_who_feeds_it_wait():
    machine = Machine()
    data = b"PU0,0;PD4000,4000;" * 400
    assert machine.feed(data) == BUFFER
    assert machine.feed(data) == 0
    run(machine, 2)
    assert 0 < machine.feed(data) <= BUFFER


def test_an_order_longer_than_the_buffer_is_drawn_place_by_place():
    machine, places = Machine(), [(k % 7, k // 7) for k in range(3000)]
    data = b"IN;SP1;PU0,0;PD" + ",".join(f"{40 * x},{40 * y}" for x, y in places).encode() + b";OA;"
    while data or machine.busy:
        data = data[machine.feed(data) :]
        machine.advance(0.5)
    assert machine.drawn[-1][1][1:] == [(float(x), float(y)) for x, y in places[1:]]
    assert machine.replies() == b"120,17120,1\r"


@pytest.mark.parametrize("nonsense", [b"\x00" * 3000, b"ZZZZ;" * 500, b"PD1,,2,;PU-;", b";" * 2000, b"SP" + b"9" * 400 + b";"])
def test_nonsense_does_not_stop_it(nonsense):
    machine = Machine()
    while nonsense:
        taken = machine.feed(nonsense)
        nonsense = nonsense[taken:]
        machine.advance(0.5)
        assert taken or machine.room
    machine.feed(b";IN;SP2;PU40,40;OA;")
    run(machine, 4)
    assert machine.replies().endswith(b"40,40,0\r")


def test_faults_of_the_machine():
    machine = Machine()
    machine.feed(b"IN;SP1;PU0,0;PD4000,0;OA;")
    machine.advance(1.7)
    machine.fail("paper out")
    there = machine.place
    machine.advance(5)
    assert machine.place == there
    assert machine.replies() == b"48\r"
    machine.mend("paper out")
    assert machine.replies() == b"16\r"
    machine.advance(5)
    assert machine.place == (100.0, 0.0)
    machine.fail("line broken")
    assert machine.feed(b"OA;") == 0
    machine.mend("line broken")
    machine.replies()
    machine.fail("power lost")
    assert (machine.pen, machine.busy) == (0, False)
    machine.mend("power lost")
    assert machine.replies() == b"24\r"


class Plotter:
    """The simulated plotter as a process."""

    def __init__(self, *options):
        order = [sys.executable, "-m", "under_lattice.plotter", "--times", "120", *options]
        self.process = subprocess.Popen(order, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        self.port = self.process.stdout.readline().strip()

    def tell(self, line):
        self.process.stdin.write(line + "\n")
        self.process.stdin.flush()

    def picture(self):
        self.tell("picture")
        return [(pen, np.array(line)) for pen, line in json.loads(self.process.stdout.readline())]

    def end(self):
        self.process.stdin.close()
        self.process.wait(5)
        self.process.stdout.close()


@pytest.fixture(params=["pseudo-terminal", "socket"])
def plotter(request):
    own = Plotter(*(["--socket"] if request.param == "socket" else []))
    yield own
    own.end()


LINES = [PenOrder(1 + k % 2, f"PU{40 * k},0;PD{40 * k},2000,{40 * k + 20},2000;".encode()) for k in range(40)]
WANT = [np.array([(k, 0), (k, 50), (k + 0.5, 50)], float) for k in range(40)]


def holds_all(picture):
    """Whether each line was drawn, by the right pen, wherever it was begun again."""
    drawn = {
        pen: shapely.union_all([shapely.LineString(line) for own, line in picture if own == pen and len(line) > 1])
        for pen in (1, 2)
    }
    return all(shapely.LineString(line).difference(drawn[1 + k % 2].buffer(0.02)).length < 0.05 for k, line in enumerate(WANT))


def test_all_lines_are_sent_drawn_and_told(plotter):
    told = []
    port = Port(plotter.port)
    assert Sender(LINES, told=told.append).send(port)
    port.close()
    assert told == list(range(1, 41))
    assert holds_all(plotter.picture())


@pytest.mark.parametrize("fault", ["paper out", "pen dry", "power lost"])
def test_after_a_fault_drawing_goes_on_where_it_stopped(plotter, fault):
    port, failed = Port(plotter.port), threading.Event()

    def told(drawn):
        if drawn == 12 and not failed.is_set():
            failed.set()
            plotter.tell(f"fail {fault}")
            if fault == "power lost":
                plotter.tell(f"mend {fault}")

    sender = Sender(LINES, told=told, silent=2.0)
    with pytest.raises(PlotterError, match="of 40 lines are drawn"):
        sender.send(port)
    assert 12 <= sender.drawn < 40
    plotter.tell(f"mend {fault}")
    time.sleep(0.3)
    assert sender.send(port)
    port.close()
    assert holds_all(plotter.picture())


def test_a_plotter_that_hangs_is_told_and_can_be_stopped(plotter):
    port = Port(plotter.port)
    plotter.tell("fail line broken")
    time.sleep(0.3)
    long = [PenOrder(1, b"PU0,0;PD" + b",".join(b"400,400" for _ in range(30_000)) + b";")] * 3
    with pytest.raises(PlotterError, match=r"takes nothing|does not answer"):
        Sender(long, silent=0.6).send(port)
    begun = time.monotonic()
    assert not Sender(long, stop=lambda: time.monotonic() - begun > 0.3).send(port)
    assert time.monotonic() - begun < 1.5
    port.close()


def test_a_pause_waits_and_goes_on(plotter):
    port, until = Port(plotter.port), time.monotonic() + 0.6
    assert Sender(LINES[:5], pause=lambda: time.monotonic() < until).send(port)
    assert time.monotonic() >= until
    port.close()


def test_a_port_that_is_not_there_says_so():
    for name in ("/dev/none-such", "127.0.0.1:1"):
        with pytest.raises(PlotterError, match="cannot be opened"):
            Port(name)


def test_the_picture_of_the_plotter_is_that_of_the_work():
    chosen, job = job_of(demo("locker-tiles"), Hpgl())
    orders = orders_of(chosen.write(job))
    own = Plotter("--times", "4000")
    port = Port(own.port)
    assert Sender(orders).send(port)
    port.close()
    drawn = shapely.union_all([shapely.LineString(line) for _, line in own.picture() if len(line) > 1])
    own.end()
    half = np.array([job.scene.width, job.scene.height]) / 2
    plot = chosen.plot(job.scene, job.sheet)
    want = shapely.union_all([shapely.LineString(line * (1, -1) + half) for pen in plot.pens for line in pen.lines])
    assert want.difference(drawn.buffer(0.05)).length < 1.0
    assert drawn.difference(want.buffer(0.05)).length < 1.0


def test_the_command_plots_on_the_simulated_plotter_and_goes_on_behind_what_is_drawn(capsys):
    assert main(["plot", "demo:air-grille", "--port", "simulated", "--times", "2000"]) == 0
    said = capsys.readouterr().out.splitlines()
    count = int(said[-1].split(" of ")[1].split()[0])
    assert said[-1] == f"{count} of {count} lines"
    assert main(["plot", "demo:air-grille", "--port", "simulated", "--times", "2000", "--skip", str(count - 3)]) == 0
    assert capsys.readouterr().out.splitlines()[-1] == f"{count} of {count} lines"
    assert main(["plot", "demo:air-grille", "--port", "/dev/none-such"]) == 1
    assert "cannot be opened" in capsys.readouterr().err
    assert main(["plot", "demo:air-grille", "--port", "simulated", "--skip", "999999"]) == 1
    assert "--skip takes" in capsys.readouterr().err
