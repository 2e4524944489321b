"""What one key press in a number field costs, told in calls, which are the same on every machine."""

import collections
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

import under_lattice
from tests.window.conftest import Hands
from under_lattice.library import demo
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
