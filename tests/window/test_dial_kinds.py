"""A kind of dial is a class, a row, and the row's line in a list; orders, files and forms take it from there."""

from dataclasses import dataclass
from typing import Annotated, ClassVar

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from tests.chains import floor_alone
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial
from under_lattice.declare.frozen import edited
from under_lattice.many.settings import apply_setting
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.ui import dials
from under_lattice.ui.dials.row import DialRow
from under_lattice.work.edits import add_rule

POINTS = ("north", "east", "south", "west")


@dataclass(frozen=True)
class Bearing(Dial):
    """A point of the compass, by its letter in orders; made up for this test alone."""

    kind: ClassVar[str] = "bearing"

    def check(self, value):
        if value not in POINTS:
            raise InputError(f"one of {', '.join(POINTS)} is allowed", self.label)
        return value

    def read(self, text):
        return next((point for point in POINTS if point.startswith(text.lower())), text)


class BearingRow(DialRow):
    """A button that goes on to the next point."""

    def __init__(self, hand, name):
        super().__init__(hand, name)
        self.button = QPushButton("")
        self.button.clicked.connect(lambda: self.turn(POINTS[(POINTS.index(self.value) + 1) % 4]))
        self.line.addWidget(self.button)

    def refresh(self):
        self.button.setText(self.value)


class Drift(Adjust):
    """An Adjust with a bearing."""

    title: ClassVar[str] = "Drift"
    towards: Annotated[str, Bearing("Towards", "Where to.")] = "north"


def test_a_new_kind_of_dial_stands_in_the_form_and_in_orders(window, qtbot, monkeypatch):
    monkeypatch.setattr(dials, "ROWS", ((Bearing, BearingRow), *dials.ROWS))
    work = floor_alone()
    design = add_rule(work.design, "floor", Drift(handle="drift"), "floor-lattice")
    rule = next(rule for rule in design.chain("floor").rules if isinstance(rule, Drift))
    design = apply_setting(design, f"floor.{rule.handle}.towards=S")
    assert design.chain("floor").rule(rule.id).towards == "south"
    with pytest.raises(InputError, match="north, east, south, west is allowed"):
        apply_setting(design, f"floor.{rule.handle}.towards=up")
    window.show_work(edited(work, design=design))
    window.show()
    window.studio.chain.open(rule.id)
    row = window.studio.chain.cards[rule.id].form.rows["towards"]
    assert row.button.text() == "south"
    QTest.mouseClick(row.button, Qt.MouseButton.LeftButton)
    assert window.document.design.chain("floor").rule(rule.id).towards == "west"
    assert row.button.text() == "west"
    window.actions_by_key["undo"].trigger()
    assert row.button.text() == "south"
