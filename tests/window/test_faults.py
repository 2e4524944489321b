"""What nothing caught is said in the window: a refusal by its sentence, a fault with the file it is written to, no traceback."""

import sys
import threading

import pytest
from PySide6.QtWidgets import QApplication

from tests.window.conftest import Hands
from under_lattice.core.errors import GivenUp, InputError
from under_lattice.library import demo
from under_lattice.ui.window import faults as faults_of
from under_lattice.ui.window.application import say_in_front
from under_lattice.ui.window.faults import Faults, faults_file, written
from under_lattice.work.edits import lock_layer
from under_lattice.work.several import shown_alone


@pytest.fixture
def heard(qapp):
    said = []
    faults = Faults(said.append)
    yield said
    faults.stop()


def meet(error):
    try:
        raise error
    except BaseException:
        sys.excepthook(*sys.exc_info())
    QApplication.processEvents()


def test_a_refusal_is_its_sentence_and_writes_nothing(heard, capfd):
    meet(InputError("at most 7 are allowed", "Lattice, Gap"))
    assert heard == ["Lattice, Gap: at most 7 are allowed"]
    assert not faults_file().exists()
    assert not capfd.readouterr().err


def test_a_fault_is_said_once_and_written_down(heard, capfd):
    for _ in range(5):
        meet(ZeroDivisionError("of the \ud800 painter"))
    (sentence,) = heard
    assert "ZeroDivisionError" in sentence
    assert str(faults_file()) in sentence
    assert faults_file().read_text(encoding="utf-8").count("of the \\ud800 painter") == 5
    assert not capfd.readouterr().err


def test_a_fault_of_a_thread_is_said_too(heard, qtbot):
    thread = threading.Thread(target=lambda: {}["key"])
    thread.start()
    thread.join()
    qtbot.waitUntil(lambda: len(heard) == 1, timeout=2000)
    assert "KeyError" in heard[0]


def test_what_was_given_up_is_no_fault(heard):
    meet(GivenUp())
    assert not heard


def test_the_file_of_faults_stays_small_and_may_be_unwritable(monkeypatch, tmp_path):
    for _ in range(60):
        written("x" * 10_000)
    assert faults_file().stat().st_size < faults_of.MOST + 20_000
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "file"))
    (tmp_path / "file").write_text("in the way")
    assert "cannot be written" in written("lost")


def test_it_is_said_beside_the_facts_of_the_open_work(hands):
    say_in_front([hands.window], "something went wrong here")
    assert "Something went wrong here" in hands.studio.facts_line.sentence + hands.studio.facts_line.told.toolTip()
    say_in_front([], "nobody hears")


@pytest.mark.parametrize("locked", [0, 1, 2])
def test_a_layer_is_shown_alone_whichever_are_locked(qtbot, window, locked):
    hands = Hands(qtbot, window).show(demo("entrance-floor"))
    layers = [layer.id for layer in hands.document.design.layers]
    hands.studio.edit("Lock", lambda design: lock_layer(design, layers[locked], True))
    hands.do("alone_layer")
    hands.settle()
    seen = shown_alone(hands.document.design, hands.studio.layer)
    assert [layer.id for layer in seen.layers if not layer.hidden] == [hands.studio.layer]
    assert [layer.hidden for layer in hands.document.design.layers] == [False, False, False]


def test_a_command_that_a_lock_refuses_says_so(hands):
    layer = hands.studio.layer
    hands.studio.edit("Lock", lambda design: lock_layer(design, layer, True))
    for key in ("choose_blend", "add_rule", "duplicate_rule", "paint_mask", "paste"):
        hands.do(key)
        for top in QApplication.topLevelWidgets():
            if top is not hands.window and top.isVisible():
                top.close()
    hands.do("choose_blend")
    assert "locked" in hands.studio.facts_line.told.toolTip()
