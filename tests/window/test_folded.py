"""What is folded under More: few rows stand in a list, many under headings that come and go with their rows."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel


def unfolded(hands, handle):
    form = hands.open(handle)
    if not form.more.isChecked():
        QTest.mouseClick(form.more, Qt.MouseButton.LeftButton)
    hands.settle()
    return form


def headings(form):
    found = [one for one in form.folded.findChildren(QLabel) if one.objectName() == "group" and one.isVisible()]
    return {one.text(): one for one in sorted(found, key=lambda one: one.y())}


def stroke(hands, handle, words):
    combo = hands.row(handle, "stroke").combo
    combo.setFocus()
    steps = combo.findText(words) - combo.currentIndex()
    for _ in range(abs(steps)):
        QTest.keyClick(combo, Qt.Key.Key_Down if steps > 0 else Qt.Key.Key_Up)
    hands.settle()
    assert combo.currentText() == words


def test_few_folded_rows_need_no_headings(hands):
    assert headings(unfolded(hands, "lattice")) == {}
    assert headings(unfolded(hands, "motif")) == {}


def test_many_folded_rows_stand_under_headings_that_come_and_go(hands):
    assert headings(unfolded(hands, "ink")) == {}  # few rows as long as there is neither ramp nor line
    stroke(hands, "ink", "one colour")
    form = unfolded(hands, "ink")
    shown = headings(form)
    assert list(shown) == ["Colours", "Blending", "Line"]
    for group, heading in shown.items():
        rows = [row for row in form.rows.values() if row.isVisible() and row.dial.group == group]
        ends = [other.y() for other in shown.values() if other.y() > heading.y()] or [form.folded.height()]
        assert rows
        assert all(heading.y() < row.y() < min(ends) for row in rows), group
    stroke(hands, "ink", "none")
    assert "Line" not in headings(unfolded(hands, "ink"))
