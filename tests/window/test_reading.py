"""Files that take long to be read: said, stopped, and read while one goes on working."""

import threading
import time

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from tests.window.test_bringing import DRAWING, dropped, layers, said
from under_lattice.core.errors import FileError, GivenUp
from under_lattice.core.progress import Progress
from under_lattice.files.bounded import read_bytes
from under_lattice.files.brought import with_brought
from under_lattice.files.svg.shapes import read_svg
from under_lattice.ui.acts import bringing
from under_lattice.work.model import Design

SHAPES = 9_000  # each cut by a path: about ten seconds


@pytest.fixture(scope="module")
def long_drawing(tmp_path_factory):
    path = tmp_path_factory.mktemp("long") / "reeds.svg"
    rects = "".join(f'<rect x="{k % 100 - 0.5}" y="{k // 100}" width="1.4" height=".8"/>' for k in range(SHAPES))
    clip = '<clipPath id="c"><circle cx="50" cy="45" r="40"/></clipPath>'
    path.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" width="100" height="100">{clip}'
        f'<g clip-path="url(#c)">{rects}</g></svg>'
    )
    return path


@pytest.mark.parametrize("way", ["brought in", "opened"])
def test_a_long_drawing_says_that_it_is_read_and_stops_within_a_second(hands, long_drawing, way):
    window, before = hands.window, hands.document.design
    reading = window.files.reading
    assert not reading.isVisible()
    dropped(window, long_drawing) if way == "brought in" else window.files.open_path(long_drawing)
    hands.bot.waitUntil(reading.isVisible, timeout=20_000)
    assert reading.words.text() == "Reading reeds.svg"
    hands.bot.waitUntil(lambda: reading.bar.value() > 0, timeout=20_000)
    begun = time.monotonic()
    QTest.mouseClick(reading.stop_button, Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(lambda: not reading.isVisible(), timeout=5000)
    assert time.monotonic() - begun < 3.0  # one shape's work, beside other tests
    assert hands.document.design is before
    assert not window.files.opening
    QTest.qWait(100)
    assert not said(hands)
    assert not [box for box in window.findChildren(QMessageBox) if box.isVisible()]


def test_what_is_edited_while_a_drawing_is_read_stays_and_the_drawing_comes_too(hands, tmp_path, monkeypatch):
    path, times, go_on = tmp_path / "gate.svg", [], threading.Event()

    def slowly(path):
        times.append(path)
        assert go_on.wait(20)
        return read_bytes(path)

    monkeypatch.setattr(bringing, "read_bytes", slowly)
    path.write_text(DRAWING)
    dropped(hands.window, path)
    hands.bot.waitUntil(lambda: bool(times), timeout=20_000)
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    assert len(layers(hands)) == 1
    go_on.set()
    hands.bot.waitUntil(lambda: len(layers(hands)) == 2, timeout=20_000)
    lattice = next(rule for rule in layers(hands)[1].rules if rule.kind == "lattice")
    assert lattice.gap == 3.0
    assert layers(hands)[0].name == "gate"
    assert len(times) == 2


@pytest.mark.parametrize("tag", ["polyline", "path", "arcs"])
def test_a_drawing_of_a_million_points_is_refused_before_it_is_read(tag):
    numbers = "1.5 2 " * 1_000_000
    shape = {"polyline": f'<polyline points="{numbers}"/>', "path": f'<path d="M{numbers}"/>'}.get(
        tag, f'<path d="M0 0{"A1 1 0 0 0 1.5 2" * 200_000}"/>'
    )
    data = f'<svg xmlns="http://www.w3.org/2000/svg">{shape}</svg>'.encode()
    begun = time.thread_time()
    with pytest.raises(FileError, match="more than 100,000 points"):
        read_svg(data, "line.svg")
    assert time.thread_time() - begun < 4.0  # reading them takes ten


def test_reading_asks_at_each_shape_whether_it_is_still_wanted_and_tells_how_far_it_is(long_drawing):
    told = []
    stop = Progress(stop=lambda: len(told) > 50, tell=lambda _, share: told.append(share))
    with pytest.raises(GivenUp):
        with_brought(Design(), long_drawing.read_bytes(), "reeds.svg", stop)
    assert len(told) == 51
    assert told == sorted(told)
    assert 0.0 < told[-1] < 0.02
