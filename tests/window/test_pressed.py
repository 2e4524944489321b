"""What is pressed stays under the pointer until it is released, whatever the field that is left does then."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class Mouse:
    """A mouse over the whole window, whose buttons the desktop knows of."""

    def __init__(self, hands):
        self.hands = hands

    def press(self, widget, at):
        self.at = widget.mapTo(self.hands.window, at)
        QTest.mousePress(self.hands.window.windowHandle(), LEFT, NONE, self.at)

    def release(self):
        QTest.mouseRelease(self.hands.window.windowHandle(), LEFT, NONE, self.at)


@pytest.fixture
def mouse(hands):
    return Mouse(hands)


@pytest.mark.parametrize("text", ["", "7", "nonsense", "x" * 60])
@pytest.mark.parametrize("edge", [2, -3])
def test_a_card_below_a_field_opens_with_one_slow_press_near_its_edge(hands, mouse, text, edge):
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, text) if text else field.setFocus()
    hands.settle()
    QTest.qWait(50)  # what the field unfolds is laid out
    below = hands.card("layer").head
    mouse.press(below, QPoint(90, edge % below.height()))
    QTest.qWait(150)  # as long as a hand takes
    assert below.rect().contains(below.mapFrom(hands.window, mouse.at))
    mouse.release()
    hands.bot.waitUntil(lambda: hands.card("layer").form is not None, timeout=3000)


def test_a_thread_that_is_pressed_does_not_slip_away_while_it_is_dragged(hands, mouse):
    gap, turn = hands.row("lattice", "gap"), hands.row("lattice", "turn")
    gap.fields[0].setFocus()
    QTest.qWait(50)
    before = turn.slider.mapTo(hands.window, QPoint(0, 0))
    mouse.press(turn.slider, turn.slider.rect().center())
    QTest.qWait(150)
    assert turn.slider.mapTo(hands.window, QPoint(0, 0)) == before
    mouse.release()
    hands.bot.waitUntil(lambda: gap.nudges is None, timeout=3000)  # then it goes
    assert turn.nudges is not None


def test_why_a_text_is_refused_is_said_once_the_button_is_up(hands, mouse):
    row, field = hands.row("lattice", "gap"), hands.row("lattice", "gap").fields[0]
    hands.type_in(field, "nonsense")
    mouse.press(hands.row("lattice", "turn").fields[0], QPoint(20, 8))
    QTest.qWait(100)
    assert not row.error.said
    assert hands.rule("lattice").gap == 0.0
    mouse.release()
    hands.bot.waitUntil(lambda: bool(row.error.said), timeout=3000)
    assert "is allowed" in row.error.said
