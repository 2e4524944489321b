"""Names are shown as they are, whatever stands in them: no label, tip, button or message of the window takes them for markup."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import Qt as Text
from PySide6.QtGui import QTextDocument
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLabel,
    QMenu,
    QMessageBox,
    QTreeWidget,
    QWidget,
)

from tests.window.conftest import Hands
from under_lattice.declare.frozen import edited
from under_lattice.library import demo
from under_lattice.ui.look.words import on_button, tip
from under_lattice.work.model import NamedDial

NAME = "<b>A & B</b><img src='/etc/hostname'><a href='x'>y</a>"


def hostile(name):
    """A demo work all of whose parts are called so."""
    work = demo(name)
    layers = tuple(edited(layer.with_each_rule(lambda rule: edited(rule, name=NAME)), name=NAME) for layer in work.design.layers)
    dial = NamedDial(id="d", handle="d", name=NAME, measure="count", value=3)
    sheet = edited(work.design.sheet, width=120.0, height=90.0)  # less to be drawn
    design = edited(work.design, sheet=sheet, name=NAME, commission=NAME, layers=layers, dials=(*work.design.dials, dial))
    kept = tuple(edited(one, name=NAME) for one in work.kept)
    return edited(work, design=design, kept=kept)


def taken_for_markup(top):
    """What of a window would be read as markup, or loses its ampersand."""
    found = []
    for part in (top, *top.findChildren(QWidget)):
        if isinstance(part, QLabel) and part.textFormat() != Qt.TextFormat.PlainText and "<b>" in part.text():
            found.append(f"label {type(part).__name__}, {part.text()[:40]}")
        if "<b>" in part.toolTip():
            found.append(f"tip {part.toolTip()[:60]}")
        if isinstance(part, QAbstractButton) and "A & B" in part.text():
            found.append(f"button {part.text()[:60]}")
        if isinstance(part, QTreeWidget):
            items = [part.topLevelItem(k) for k in range(part.topLevelItemCount())]
            found += [f"item {item.toolTip(k)}" for item in items for k in range(part.columnCount()) if "<b>" in item.toolTip(k)]
        if isinstance(part, QMenu):
            found += [f"entry {action.text()}" for action in part.actions() if "A & B" in action.text()]
    return found


LEAVES = {
    "quit",
    "book",
    "open",
    "new_window",
    "save",
    "save_as",
    "print",
    "undo",
    "redo",
}  # which leave the work


@pytest.fixture
def answers(monkeypatch):
    """Dialogs that would wait are looked at and closed."""
    met = []

    def looked_at(box, *_):
        met.extend(taken_for_markup(box))
        return 0

    for kind in (QDialog, QMessageBox, QMenu):
        monkeypatch.setattr(kind, "exec", looked_at)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("", False))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: ("", ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_, **__: ([], ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: ("", ""))
    return met


@pytest.mark.parametrize("name", ["tide-board"])
def test_no_part_of_the_window_takes_a_name_for_markup(qtbot, window, answers, name):
    hands = Hands(qtbot, window).show(hostile(name))
    qtbot.waitUntil(lambda: window.studio.facts.copies > 0, timeout=20_000)
    for rule in hands.layer.every_rule:
        hands.studio.chain.open(rule.id)
        QApplication.processEvents()
        assert not taken_for_markup(window)
    assert any(NAME[:8] in part.text() for part in window.findChildren(QLabel))
    for key, action in window.actions_by_key.items():
        if key in LEAVES or not action.isEnabled():
            continue
        action.trigger()
        QApplication.processEvents()
        assert not [found for top in QApplication.topLevelWidgets() if top.isVisible() for found in taken_for_markup(top)], key
        for top in QApplication.topLevelWidgets():
            if top is not window and top.isVisible():
                top.close()
    assert not answers


def test_menus_say_names_whole(qtbot, window):
    Hands(qtbot, window).show(hostile("tide-board"))
    design = window.document.design
    for name in [layer.id for layer in design.all_layers()]:
        window.layer_actions._layer_menu(name, window.pos())
        menu = next(one for one in reversed(window.findChildren(QMenu)) if one.isVisible())
        entries = [action.text() for one in (menu, *menu.findChildren(QMenu)) for action in one.actions()]
        assert not [text for text in entries if "A & B" in text]
        assert name == design.layers[-1].id or any("A && B" in text for text in entries)
        menu.close()


def test_what_is_asked_is_plain(qtbot, window, monkeypatch):
    seen = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: seen.append((box.textFormat(), box.text())) or 0)
    hands = Hands(qtbot, window).show(hostile("air-grille"))
    hands.studio.edit("Name", lambda design: edited(design, commission="another"))
    assert not window.files.may_leave()
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Discard)
    ((form, text),) = seen
    assert form == Qt.TextFormat.PlainText
    assert NAME in text


@pytest.mark.parametrize("text", [NAME, "a < b & c > d", "plain & simple", "two\nlines", "<i>two</i>\nlines"])
def test_a_tip_shows_a_text_as_it_is(text):
    shown = QTextDocument()
    if Text.mightBeRichText(tip(text)):
        shown.setHtml(tip(text))
    else:
        shown.setPlainText(tip(text))
    assert shown.toPlainText() == text
    assert on_button(text).count("&") == 2 * text.count("&")
