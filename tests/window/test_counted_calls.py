"""What one key press in a number field costs, told in calls, which are the same on every machine."""

import collections
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

import under_lattice
from tests.window.conftest import Hands
from under_lattice.library import demo
from under_lattice.ui.panels.add_slot import AddSlot
from under_lattice.ui.panels.chips import Chip
from under_lattice.ui.workers.worker import worker

OURS = str(Path(under_lattice.__file__).parent)


@pytest.fixture
def entrance(window, qtbot):
    window.show_work(demo("entrance-floor"))
    window.show()
    qtbot.waitExposed(window)
    window.activateWindow()
    hands = Hands(qtbot, window)
    hands.settle()
    return hands


def calls_of(act, until):
    """Calls of our own functions, by file and name, while `act` runs, up to the call of `until`."""
    counted, ended = collections.Counter(), []

    def look(frame, event, arg):
        code = frame.f_code
        if event == "call" and not ended and code.co_filename.startswith(OURS):
            counted[code.co_filename.removeprefix(OURS), code.co_qualname if hasattr(code, "co_qualname") else code.co_name] += 1
            if code is until.__code__:
                ended.append(True)

    sys.setprofile(look)
    try:
        act()
    finally:
        sys.setprofile(None)
    assert ended, "nothing was asked for"
    return counted


def test_one_key_press_costs_few_calls_before_the_request_is_sent(entrance):
    handle = next(rule.handle for rule in entrance.layer.rules if rule.family == "repeat")
    form = entrance.open(handle)
    row = next(row for name, row in form.rows.items() if row.isVisible() and getattr(row, "fields", None))
    field = row.fields[0]
    field.setFocus()
    field.selectAll()
    QTest.keyClick(field, Qt.Key.Key_2)
    entrance.settle()
    entrance.bot.waitUntil(
        lambda: entrance.studio.facts.of is entrance.layer and not worker().busy(entrance.window.engine), timeout=20_000
    )
    QTest.qWait(50)  # what came meanwhile is shown
    counted = calls_of(lambda: QTest.keyClick(field, Qt.Key.Key_3), type(entrance.studio.engine).ask)
    walks = sum(number for (_, name), number in counted.items() if name.endswith((".walk", ".all_layers", ".chains")))
    refreshed = sum(number for (file, name), number in counted.items() if file.endswith("form.py") and name.endswith("refresh"))
    told = "\n".join(f"{number:5} {file} {name}" for (file, name), number in counted.most_common(40))
    assert sum(counted.values()) < 500, told
    assert walks <= 10, told
    assert refreshed <= 1, told


class Painted(QObject):
    """How often which widgets were drawn."""

    def __init__(self):
        super().__init__()
        self.count = collections.Counter()

    def eventFilter(self, one, event):
        if event.type() == QEvent.Type.Paint and isinstance(one, QWidget):
            self.count[one] += 1
        return False


def test_a_key_in_a_number_draws_its_row_and_leaves_the_rest_as_it_is(hands, qapp):
    """Until its picture is there: the sheet is not drawn with the one of before."""
    row = hands.row("lattice", "gap")
    row.fields[0].setFocus()
    for key in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Up):
        hands.settle()
        hands.bot.waitUntil(lambda: not worker().busy(hands.window.engine), timeout=10_000)
        hands.bot.wait(50)
        seen = Painted()
        qapp.installEventFilter(seen)
        ended = hands.studio.painted.connect(lambda seen=seen: qapp.removeEventFilter(seen))
        QTest.keyClick(row.fields[0], key)
        hands.bot.waitUntil(lambda: hands.studio.shown >= hands.studio.asked, timeout=10_000)
        hands.studio.painted.disconnect(ended)
        assert not seen.count[hands.studio.sheet]
        assert not any(seen.count[hands.card(handle).head] for handle in ("motif", "ink"))
        assert not any(count for part, count in seen.count.items() if isinstance(part, (AddSlot, Chip)))
