"""Parts of a window never stand as windows of their own, not for a moment: the keys would go to them; the theme reaches all."""

import pytest
from PySide6.QtCore import QEvent, QObject
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QApplication, QCheckBox, QComboBox, QMenu, QWidget

from tests.window.conftest import Hands
from under_lattice.colour.colour import contrast
from under_lattice.library import demo
from under_lattice.ui.dials.vary_panel import VaryPanel
from under_lattice.ui.look.dressing import Bare, parts_of
from under_lattice.ui.look.tokens import DARK, LIGHT, LOOK
from under_lattice.ui.window.window import Window

DRESSED = True
PAGES = ("strip", "repeat", "compare", "string", "tray", "grid", "bones")


class Seen(QObject):
    """What was shown as a window."""

    def __init__(self):
        super().__init__()
        self.names = []

    def eventFilter(self, one, event):
        if event.type() == QEvent.Type.Show and isinstance(one, QWidget) and one.isWindow():
            self.names.append(type(one).__name__)
        return False


@pytest.mark.parametrize("name", ["entrance-floor", "seed-clock"])
def test_nothing_but_the_window_is_shown_as_one(window, qtbot, qapp, name):
    hands = Hands(qtbot, window).show(demo("tide-wall"))
    seen = Seen()
    qapp.installEventFilter(seen)
    try:
        hands.show(demo(name))
        for layer in hands.document.design.all_layers():
            hands.studio.choose_layer(layer.id)
            hands.settle()
            for rule in hands.studio.chosen.every_rule:
                hands.studio.chain.open(rule.id)
                qtbot.wait(30)
                form = hands.studio.chain.cards[rule.id].form
                if form is not None and not form.more.isHidden():
                    form.more.setChecked(True)
                    qtbot.wait(30)
        for key in PAGES:
            hands.do(key)
            qtbot.wait(60)
            hands.do(key)
        hands.settle()
    finally:
        qapp.removeEventFilter(seen)
    assert seen.names == []


def ground_of(widget):
    return widget.grab().toImage().pixelColor(3, widget.height() // 2)


def test_a_theme_is_put_on_all_windows_with_their_lists_menus_and_panels(hands, qtbot):
    other = Window()
    qtbot.addWidget(other)
    other.show_book()
    hands.show(demo("entrance-floor"))
    row = hands.row("push-edges", "amount")
    row.open_vary()
    assert isinstance(row.panel, VaryPanel)
    try:
        for wish, tokens in (("dark", DARK), ("light", LIGHT)):
            hands.window.set_theme(wish)
            qtbot.waitUntil(lambda: not (hands.window.dressing.under_way or other.dressing.under_way), timeout=5000)
            assert ground_of(other.strip) == QColor(tokens.panel)
            assert ground_of(hands.studio.facts_line) == QColor(tokens.panel)
            assert ground_of(row.panel) == QColor(tokens.open)
            assert ground_of(hands.window.findChildren(QMenu)[0]) == QColor(tokens.open)
            assert ground_of(row.panel.findChildren(QComboBox)[0]) == QColor(tokens.field)
    finally:
        LOOK.wish = "light"
        row.panel.close()
        other.close()


def test_another_theme_is_seen_in_every_panel_of_a_window_that_is_open(hands):
    """In the pixels, not the palette: grounds of strip, chain, facts and tray, and the words of a card."""
    try:
        for theme in ("dark", "light"):
            hands.do(theme)
            hands.bot.waitUntil(lambda: not hands.window.dressing.under_way, timeout=5000)
            hands.settle()
            studio = hands.studio
            ground = LOOK.tokens.panel.lower()
            for part, corner in ((hands.window.strip, (2, 3)), (studio.facts_line, (2, 5)), (studio.tray, (3, 3))):
                assert part.grab().toImage().pixelColor(*corner).name() == ground, (theme, type(part).__name__)
            head = hands.card("lattice").head.grab().toImage()
            light = [head.pixelColor(x, y).lightness() for x in range(60, head.width(), 2) for y in range(4, head.height() - 4, 2)]
            assert max(light) - min(light) > 150, theme  # its words stand out
    finally:
        hands.do("light")


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_the_box_of_what_can_be_ticked_is_seen_whether_it_is_ticked_or_not(window, theme, qtbot):
    window.show()
    try:
        window.set_theme(theme)
        qtbot.waitUntil(lambda: not window.dressing.under_way, timeout=5000)
        box = QCheckBox("Crop marks", window)
        box.show()
        for ticked in (False, True):
            box.setChecked(ticked)
            shot = box.grab().toImage()
            middle, ground = shot.height() // 2, LOOK.tokens.panel
            seen = {shot.pixelColor(x, middle).name() for x in range(20)}
            assert max(contrast(one, ground) for one in seen) > 3.0, (theme, ticked)
    finally:
        window.set_theme("light")


def test_another_theme_comes_to_one_part_of_a_window_after_the_other(hands, qtbot):
    hands.show(demo("festival-poster"))
    for key in ("strip", "string"):
        hands.do(key)
        hands.settle()
    everything = len(hands.window.findChildren(QWidget))
    parts = parts_of(hands.window)
    assert all(one.styleSheet() for one in parts if one.isVisible())
    sizes = [len(part.findChildren(QWidget)) + 1 for part in parts]
    assert max(sizes) < 0.4 * everything
    bare = [one for one in hands.window.findChildren(QWidget) if isinstance(one, Bare)]
    assert sum(sizes) + len(bare) == everything
    try:
        for wish in ("dark", "light", "dark"):  # the next before the one before has come to all
            hands.window.set_theme(wish)
            qtbot.wait(1)
        qtbot.waitUntil(lambda: not hands.window.dressing.under_way, timeout=5000)
        assert all(DARK.text in one.styleSheet() for one in parts)
        assert hands.window.updatesEnabled()
    finally:
        LOOK.wish = "light"


@pytest.mark.parametrize("key", ["sheet", "export", "recolour", "find", "history", "add_rule", "about", "plot"])
def test_what_opens_above_a_window_wears_its_theme(hands, key):
    hands.window.set_theme("dark")
    hands.bot.waitUntil(lambda: not hands.window.dressing.under_way, timeout=5000)
    before = set(hands.window.findChildren(QWidget))
    try:
        hands.do(key)
        QApplication.processEvents()
        made = [one for one in hands.window.findChildren(QWidget) if one not in before and one.isVisible()]
        opened = [one for one in made if one.parentWidget() is hands.window]
        assert len(opened) == 1
        assert opened[0].grab().toImage().pixelColor(4, 4).name() in (DARK.panel.lower(), DARK.open.lower())
        opened[0].close()
    finally:
        hands.window.set_theme("light")
