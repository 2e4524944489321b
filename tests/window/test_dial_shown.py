"""F1 on a dial: its sentence, what it takes, and the work before and after it is turned."""

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from under_lattice.declare.dials import Choice
from under_lattice.explore.before_after import turned_far
from under_lattice.library import demo
from under_lattice.rules import Adjust, Ink, Lattice, LeaveOut, Polygon
from under_lattice.ui.dialogs.command_search import CommandSearch
from under_lattice.vary.numbers import Varied
from under_lattice.work.address import Address

SQUARES = Lattice(form="squares", extent="by number", columns=4, rows=3)


def search_of(hands):
    return next(one for one in hands.window.findChildren(CommandSearch) if one.isVisible())


def asked(hands, handle, name):
    """What F1 shows with the focus in a dial."""
    hands.row(handle, name).take_focus()
    hands.do("find")
    return search_of(hands)


def pictures_of(hands, shown):
    hands.bot.waitUntil(lambda: all(not one.pixmap().isNull() for one in shown.images.values()), timeout=20_000)
    images = [one.pixmap().toImage() for one in shown.images.values()]
    return [np.frombuffer(one.constBits(), np.uint8).reshape(one.height(), -1).copy() for one in images]


def test_it_says_what_the_dial_does_and_shows_the_work_before_and_after(showing):
    hands = showing(Polygon(size=20.0), Ink(), SQUARES)
    search = asked(hands, "lattice", "gap")
    lines = [one.text() for one in search.shown.lines]
    assert lines[0] == "Lattice: Gap"
    assert lines[1] == hands.rule("lattice").dials()["gap"].words
    assert "mm is allowed" in lines[2]
    assert lines[-1].endswith("floor.lattice.gap")
    before, after = pictures_of(hands, search.shown)
    assert (before != after).any()
    assert "as it is" in search.shown.images["before"].accessibleName()
    assert hands.rule("lattice").gap == 0.0  # nothing was turned
    assert not hands.document.modified


def test_typing_puts_it_away_and_escape_gives_the_focus_back(showing):
    hands = showing(Polygon(size=20.0), Ink(), SQUARES)
    search = asked(hands, "lattice", "gap")
    assert search.shown.isVisible()
    QTest.keyClicks(search.field, "rotate")
    assert not search.shown.isVisible()
    search.field.clear()
    assert search.shown.isVisible()
    QTest.keyClick(search.field, Qt.Key.Key_Escape)
    assert hands.window.focusWidget() in hands.row("lattice", "gap").fields


def test_without_a_dial_it_is_the_line_alone(hands):
    hands.studio.sheet.setFocus()
    hands.do("find")
    assert search_of(hands).shown is None


BY_COLUMN = Varied(rule="floor-lattice", channel="column", start=0.0, end=40.0)


@pytest.mark.parametrize(
    ("rules", "handle", "name"),
    [
        ((Polygon(size=20.0), Ink(), SQUARES), "ink", "palette"),  # no steps: words alone
        ((Polygon(size=20.0), Ink(), SQUARES), "lattice", "form"),
        ((Polygon(size=20.0), Ink(), SQUARES), "lattice", "pivot"),
        ((Polygon(size=20.0), SQUARES, LeaveOut(which="by chance")), "leave-out", "seed"),
        (
            (Polygon(size=20.0), SQUARES, Adjust(turn=BY_COLUMN)),
            "adjust",
            "turn",
        ),
    ],
)
def test_every_kind_of_dial_says_something(showing, rules, handle, name):
    hands = showing(*rules, handles=False)
    shown = asked(hands, handle, name).shown
    assert shown.lines[1].text()
    assert len(shown.images) == (0 if name == "palette" else 2)
    if shown.images:
        pictures_of(hands, shown)


def test_all_dials_of_demo_works_are_turned_within_their_range_or_have_no_steps():
    turned = 0
    for key in ("entrance-floor", "carved-ceiling", "harbour-window"):
        design = demo(key).design
        for layer, rule in design.every_rule():
            for name, dial in rule.dials().items():
                varies = isinstance(getattr(rule, name), Varied)
                found = turned_far(design, Address(layer.id, rule.id, name, "end" if varies else ""))
                if found is not None:
                    turned += 1
                    assert found.design != design
                    assert found.after != found.before
                elif isinstance(dial, Choice):
                    assert len(dial.options) < 2 or not varies
    assert turned > 100
