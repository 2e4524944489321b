"""What assistive technology is told: names, roles, values, labels; contrast of every pair of colours; keys that open lists."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAccessible, QColor, QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QWidget

from under_lattice.colour.colour import contrast
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.dials.parts import Lock, ThreadSlider
from under_lattice.ui.look.tokens import DARK, HIGH_DARK, HIGH_LIGHT, LIGHT, LOOK, colour
from under_lattice.ui.window.commands import COMMANDS
from under_lattice.ui.window.window import dress_all

TEXT = [("text", ground) for ground in ("panel", "card", "open", "field", "hover", "tint", "tag", "saft")]
TEXT += [("text2", ground) for ground in ("panel", "card", "open", "field", "hover", "tint", "ground")]
TEXT += [("dis", ground) for ground in ("panel", "card", "open", "field")]
TEXT += [("ver", "panel"), ("ver", "open"), ("verink", "ver"), ("saf", "card"), ("saf", "open"), ("err", "open"), ("err", "card")]
TEXT += [("text", "surround"), ("ver", "tint"), ("saf", "saft")]
PARTS = [("ver", "panel"), ("strong", "panel"), ("strong", "field"), ("safg", "open"), ("err", "field"), ("ver", "tint")]
PARTS += [("strong", "open")]
HIGH = {"high light": HIGH_LIGHT, "high dark": HIGH_DARK}
GREYS = ("surround", "ground", "panel", "card", "open", "field", "hover", "line", "strong", "text")


@pytest.mark.parametrize("name", ["light", "dark", *HIGH])
def test_contrast_is_enough(name):
    tokens = {"light": LIGHT, "dark": DARK, **HIGH}[name]
    least_text, least_part = (7.0, 4.5) if name in HIGH else (4.5, 3.0)
    low = [(one, other, round(contrast(getattr(tokens, one), getattr(tokens, other)), 2)) for one, other in TEXT]
    assert [pair for pair in low if pair[2] < least_text] == []
    parts = [(one, other, round(contrast(getattr(tokens, one), getattr(tokens, other)), 2)) for one, other in PARTS]
    assert [pair for pair in parts if pair[2] < least_part] == []
    assert all(QColor(getattr(tokens, grey)).saturation() == 0 for grey in GREYS)


def test_high_contrast_of_the_desktop_is_respected(hands, monkeypatch):
    monkeypatch.setattr(type(LOOK), "high", True)
    dress_all()
    assert colour("text2") == QColor(HIGH_LIGHT.text2)
    assert QApplication.palette().windowText().color() == QColor("#000000")
    label = hands.row("lattice", "gap").label
    shot = label.grab().toImage()
    darkest = min(shot.pixelColor(x, y).value() for x in range(shot.width()) for y in range(shot.height()))
    assert darkest < 60
    monkeypatch.undo()
    dress_all()
    assert colour("text2") == QColor(LIGHT.text2)


def focusable(parent):
    return [one for one in parent.findChildren(QWidget) if one.isVisible() and one.focusPolicy() & Qt.FocusPolicy.TabFocus]


@pytest.mark.parametrize("page", ["book", "studio"])
def test_everything_that_takes_keys_has_a_name(hands, page):
    if page == "book":
        hands.window.show_book()
        QApplication.processEvents()
    else:
        hands.row("lattice", "gap")
    nameless = []
    for widget in focusable(hands.window):
        told = QAccessible.queryAccessibleInterface(widget)
        name = told.text(QAccessible.Text.Name) if told is not None else ""
        if not (name or widget.accessibleName()):
            nameless.append(f"{type(widget).__name__} {widget.objectName()}")
    assert nameless == []


def test_numbers_are_spin_boxes_with_unit_and_range_and_threads_are_sliders(hands):
    row = hands.row("lattice", "gap")
    told = QAccessible.queryAccessibleInterface(row.fields[0])
    assert told.role() == QAccessible.Role.SpinBox
    assert told.text(QAccessible.Text.Name) == "Gap"
    assert told.text(QAccessible.Text.Value) == "0.00 mm, from −10000 to 10000 mm is allowed"
    thread = QAccessible.queryAccessibleInterface(row.slider)
    assert thread.role() == QAccessible.Role.Slider
    assert thread.text(QAccessible.Text.Value) == "0, from \u221210 to 10"
    hands.type_in(row.fields[0], "3")
    assert told.text(QAccessible.Text.Value).startswith("3")


def test_labels_belong_to_what_they_name(hands):
    form = hands.open("lattice")
    for row in form.rows.values():
        if row.isVisible() and focusable(row):
            assert row.label.buddy() is not None, row.name
    row = form.rows["gap"]
    assert row.label.buddy() is row.fields[0]


def test_beads_say_on_or_off_cards_open_or_closed_and_the_facts_what_they_are(hands):
    chain = hands.studio.chain
    lattice, ink = hands.rule("lattice").id, hands.rule("ink").id
    assert chain.beads[ink].accessibleName() == "Ink: on"
    hands.studio.chain.beads[ink].click()
    assert chain.beads[ink].accessibleName() == "Ink: off"
    assert chain.cards[lattice].head.accessibleDescription() == "open"
    assert chain.cards[ink].head.accessibleDescription() == "closed"
    hands.bot.waitUntil(lambda: "in all" in hands.studio.facts_line.accessibleDescription(), timeout=10_000)


def test_targets_are_large_enough(hands):
    hands.open("lattice")
    small = []
    for widget in focusable(hands.window):
        if isinstance(widget, ThreadSlider) or widget.objectName() in ("link", "linkSaf", "more", "warn", "cure", "plain"):
            continue  # a thread has its field; words in a line have the line
        if widget.width() < 24 or widget.height() < 24:
            small.append(f"{type(widget).__name__} {widget.accessibleName()} {widget.width()} × {widget.height()}")
    assert small == []
    assert all(lock.width() >= 24 for lock in hands.studio.chain.findChildren(Lock))


def test_alt_down_opens_a_list_and_moves_no_rule(hands):
    assert not any(QKeySequence(keys) == QKeySequence("Alt+Down") for one in COMMANDS for keys in one.shortcut.split())
    row = hands.row("lattice", "extent")
    order = [rule.id for rule in hands.layer.rules]
    row.combo.setFocus()
    QTest.keyClick(row.combo, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert isinstance(row.combo, QComboBox)
    hands.bot.waitUntil(lambda: row.combo.view().isVisible(), timeout=2000)
    row.combo.hidePopup()
    assert [rule.id for rule in hands.layer.rules] == order


def test_tab_goes_from_top_to_bottom_in_a_form(hands):
    form = hands.open("lattice")
    fields = [one for one in form.findChildren(NumberField) if one.isVisible()]
    places = [one.mapTo(form, QPoint(0, 0)).y() for one in fields]
    assert places == sorted(places)
    hands.bot.wait(50)  # the order is set once the form is laid out
    fields[0].setFocus()
    seen = []
    for _ in range(60):
        widget = QApplication.focusWidget()
        if widget is None or not form.isAncestorOf(widget):
            break
        seen.append(round(widget.mapTo(form, widget.rect().center()).y() / 14))
        QTest.keyClick(widget, Qt.Key.Key_Tab)
    assert len(seen) > 3
    assert seen == sorted(seen)
