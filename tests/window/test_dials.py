"""Dials as a person turns them."""

from functools import partial

import pytest
from PySide6.QtCore import QEvent, QLocale, QPoint, QPointF, Qt
from PySide6.QtGui import QContextMenuEvent, QGuiApplication, QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu

from tests.chains import work_of
from under_lattice.rules import Adjust, Ellipse, Ink, Lattice, Polygon, Progression
from under_lattice.ui.dialogs.command_search import CommandSearch
from under_lattice.ui.dials.curve import VaryMark
from under_lattice.ui.window.commands import COMMANDS
from under_lattice.vary.numbers import SENTENCES, Varied


def test_a_number_applies_while_it_is_typed_and_a_visit_is_one_step(hands):
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, "1")
    assert hands.rule("lattice").gap == 1.0
    QTest.keyClicks(field, ".8")
    assert hands.rule("lattice").gap == 1.8
    hands.settle()
    hands.bot.waitUntil(lambda: "37.80 mm" in hands.studio.facts_line.pitch.text(), timeout=10_000)
    QTest.keyClick(field, Qt.Key.Key_Return)
    hands.do("undo")
    assert hands.rule("lattice").gap == 0.0
    hands.do("redo")
    assert hands.rule("lattice").gap == 1.8


@pytest.mark.parametrize(("text", "value"), [("41.57/2", 20.785), ("1.2 cm", 12.0), ("-(3+1)", -4.0)])
def test_arithmetic_and_units_come_back_in_the_dials_unit(hands, text, value):
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, text)
    assert hands.rule("lattice").gap == pytest.approx(value)
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert float(field.text().replace("−", "-")) == pytest.approx(value, abs=0.005)


@pytest.mark.parametrize("text", ["abc", "1/0", "99999999", ""])
def test_what_is_no_number_is_marked_and_changes_nothing(hands, text):
    row = hands.row("lattice", "gap")
    field = row.fields[0]
    hands.type_in(field, "2")
    QTest.keyClick(field, Qt.Key.Key_Return)
    QGuiApplication.clipboard().setText(text)
    field.paste() if text else QTest.keyClick(field, Qt.Key.Key_Delete)
    assert not row.error.said  # not while typing
    QTest.keyClick(field, Qt.Key.Key_Tab)
    assert row.error.said
    assert "from −10000 to 10000 mm is allowed" in row.error.said.lower()
    assert field.text() == "2.00"  # what holds
    assert hands.rule("lattice").gap == 2.0
    hands.type_in(field, "3")
    assert not row.error.said
    assert hands.rule("lattice").gap == 3.0


def test_the_mark_comes_after_a_short_pause(hands):
    row = hands.row("lattice", "turn")
    hands.type_in(row.fields[0], "east")
    hands.bot.waitUntil(lambda: bool(row.error.said), timeout=3000)


def test_arrow_keys_nudge_by_three_sizes_of_what_is_seen(hands):
    field = hands.row("lattice", "gap").fields[0]
    assert 1 <= hands.studio.sheet.scale < 10  # px for each mm: a tenth of one is not seen
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Up)
    assert hands.rule("lattice").gap == pytest.approx(1)
    QTest.keyClick(field, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert hands.rule("lattice").gap == pytest.approx(11)
    QTest.keyClick(field, Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier)
    assert hands.rule("lattice").gap == pytest.approx(10.9)


def test_a_nudge_is_seen_at_any_zoom_and_its_row_says_how_far_it_goes(hands):
    row = hands.row("lattice", "gap")
    row.fields[0].setFocus()
    for wanted, step in ((0.2, 10), (0.99, 10), (1.0, 1), (12, 0.1), (500, 0.1), (0.004, 1000)):
        before = hands.rule("lattice").gap
        hands.studio.sheet.zoom_to(wanted)
        scale = hands.studio.sheet.scale  # there is a least zoom
        QTest.keyClick(row.fields[0], Qt.Key.Key_Up)
        assert hands.rule("lattice").gap == pytest.approx(before + step)
        assert step * scale >= 1
        chosen = next(button for button in row.nudges._sizes if button.isChecked())
        assert float(chosen.text()) == step


@pytest.mark.parametrize(
    ("held", "step"),
    [
        (Qt.KeyboardModifier.NoModifier, 1),
        (Qt.KeyboardModifier.ShiftModifier, 10),
        (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier, 100),
    ],
)
def test_counts_step_by_one_ten_and_a_hundred(hands, held, step):
    hands.window.show_work(work_of(Polygon(size=5.0), Progression(extent="by number", count=7)))
    hands.settle()
    field = hands.row("progression", "count").fields[0]
    QTest.keyClick(field, Qt.Key.Key_Up, held)
    assert hands.rule("progression").count == 7 + step


def test_a_press_that_brings_the_focus_selects_the_whole_number(hands):
    field = hands.row("motif", "size").fields[0]
    hands.studio.sheet.setFocus()
    QTest.mouseClick(field, Qt.MouseButton.LeftButton, pos=field.rect().center())
    assert field.selectedText() == field.text()
    QTest.keyClicks(field, "120")
    assert hands.rule("motif").size == 120
    QTest.mouseClick(field, Qt.MouseButton.LeftButton, pos=field.rect().center())
    assert not field.selectedText()  # the second press places the cursor
    QTest.mouseDClick(field, Qt.MouseButton.LeftButton, pos=field.rect().center())
    assert field.selectedText() == field.text()


def pressed_at(field, ms, kind=QEvent.Type.MouseButtonPress):
    """Send a press or a release at the middle of a field, at a time of the pointer's clock."""
    button = Qt.MouseButton.NoButton if kind == QEvent.Type.MouseButtonRelease else Qt.MouseButton.LeftButton
    at = QPointF(field.rect().center())
    event = QMouseEvent(kind, at, field.mapToGlobal(at), Qt.MouseButton.LeftButton, button, Qt.KeyboardModifier.NoModifier)
    event.setTimestamp(ms)
    QApplication.sendEvent(field, event)


def test_three_quick_presses_select_the_whole_number_and_one_that_comes_later_places_the_cursor(hands):
    field = hands.row("motif", "size").fields[0]
    hands.studio.sheet.setFocus()
    field.setFocus()
    twice, release, soon = QEvent.Type.MouseButtonDblClick, QEvent.Type.MouseButtonRelease, QApplication.doubleClickInterval()
    for ms, kind in ((5000, None), (5050, release), (5100, twice), (5150, release), (5200, None), (5250, release)):
        pressed_at(field, ms, kind or QEvent.Type.MouseButtonPress)
    assert field.selectedText() == field.text()
    QTest.keyClicks(field, "1/3")
    assert hands.rule("motif").size == pytest.approx(1 / 3)
    pressed_at(field, 5100 + soon + 1)
    assert not field.selectedText()


def test_per_cent_are_of_the_number_the_visit_began_with_and_it_is_said(hands):
    row = hands.row("motif", "size")
    before = hands.rule("motif").size
    hands.type_in(row.fields[0], "50 %")
    assert hands.rule("motif").size == pytest.approx(before / 2)
    assert row.hint.said == f"50 % of {before:.2f} mm is {before / 2:.2f} mm"
    hands.bot.waitUntil(lambda: bool(row.hint.said), timeout=2000)
    hands.type_in(row.fields[0], "-3 %")
    assert hands.rule("motif").size == pytest.approx(before * 0.97)  # of before, not of what was half typed
    QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
    assert not row.hint.said
    assert row.fields[0].text() == f"{before * 0.97:.2f}"
    hands.do("undo")
    assert hands.rule("motif").size == before


def test_a_ratio_takes_per_cent_as_itself_and_changes_by_points(hands):
    row = hands.row("layer", "opacity")
    hands.type_in(row.fields[0], "60 %")
    QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
    assert hands.layer.end.opacity == 60
    hands.type_in(row.fields[0], "-3 %")
    assert hands.layer.end.opacity == 57
    assert row.hint.said == "60 % − 3 % is 57 %"


def test_numbers_are_written_as_the_desktop_writes_them(hands, monkeypatch):
    QLocale.setDefault(QLocale("de_DE"))
    try:
        row = hands.row("motif", "size")
        hands.type_in(row.fields[0], "12,5")
        assert hands.rule("motif").size == 12.5
        QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
        assert row.fields[0].text() == "12,50"
    finally:
        QLocale.setDefault(QLocale.c())


def test_the_nudge_row_shows_the_step_and_nudges(hands):
    row = hands.row("lattice", "gap")
    row.fields[0].setFocus()
    hands.bot.waitUntil(lambda: row.nudges is not None, timeout=2000)
    buttons = {button.accessibleName(): button for button in row.nudges.findChildren(type(row.nudges._sizes[0]))}
    QTest.mouseClick(buttons["Step 1, Gap"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(buttons["Gap, more"], Qt.MouseButton.LeftButton)
    assert hands.rule("lattice").gap == pytest.approx(1.0)
    hands.row("lattice", "turn").fields[0].setFocus()
    hands.bot.waitUntil(lambda: row.nudges is None, timeout=2000)


def test_the_wheel_nudges_only_a_focused_dial(hands):
    field = hands.row("lattice", "gap").fields[0]

    def wheel():
        at = QPointF(field.rect().center())
        event = QWheelEvent(
            at, field.mapToGlobal(at), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(field, event)

    hands.studio.sheet.setFocus()
    wheel()
    assert hands.rule("lattice").gap == 0.0
    field.setFocus()
    wheel()
    assert hands.rule("lattice").gap == pytest.approx(1)


def test_dragging_the_label_scrubs_and_a_double_click_resets(hands):
    row = hands.row("lattice", "turn")
    hands.drag(row.label, QPoint(10, 8), (40, 0))
    assert hands.rule("lattice").turn == pytest.approx(10.0)
    hands.do("undo")
    assert hands.rule("lattice").turn == 0.0
    hands.do("redo")
    QTest.mouseDClick(row.label, Qt.MouseButton.LeftButton)
    assert hands.rule("lattice").turn == 0.0


def test_the_slider_moves_the_number_as_one_step(hands):
    slider = hands.row("lattice", "gap").slider
    hands.drag(slider, slider.rect().center(), (13, 0))
    assert hands.rule("lattice").gap == pytest.approx(7.0, abs=1.0)
    hands.do("undo")
    assert hands.rule("lattice").gap == 0.0


def test_escape_takes_the_visit_back(hands):
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, "7")
    QTest.keyClick(field, Qt.Key.Key_Escape)
    assert hands.rule("lattice").gap == 0.0
    assert hands.document.can_undo == ""


def test_locks_are_kept_in_the_work(hands):
    row = hands.row("lattice", "gap")
    QTest.mouseClick(row.lock, Qt.MouseButton.LeftButton)
    assert hands.rule("lattice").locked == ("gap",)
    hands.type_in(row.fields[0], "2")
    assert hands.rule("lattice").gap == 2.0
    QTest.mouseClick(row.lock, Qt.MouseButton.LeftButton)
    assert hands.rule("lattice").locked == ()


def test_a_derived_pitch_is_freed_by_typing_and_tied_again_by_the_choice(hands):
    row = hands.row("lattice", "spacing")
    hands.bot.waitUntil(lambda: row.shown.text() == "36.00", timeout=5000)
    hands.type_in(row.shown, "40")
    assert (hands.rule("lattice").spacing, hands.rule("lattice").pitch) == ("free", 40.0)
    row = hands.row("lattice", "spacing")
    row.combo.setFocus()
    QTest.keyClick(row.combo, Qt.Key.Key_Up)
    assert hands.rule("lattice").spacing == "touching"


def test_a_second_derived_pitch_stands_in_a_row_of_its_own_and_is_freed_alike(hands):
    form = hands.open("lattice")
    assert form.rows["row_pitch"].isHidden()
    QTest.mouseClick(form.rows["form"].segments._buttons["squares"], Qt.MouseButton.LeftButton)
    row = form.rows["row_pitch"]
    hands.bot.waitUntil(lambda: not row.isHidden() and row.fields[0].text() == "41.57", timeout=10_000)
    hands.type_in(row.fields[0], "50")
    rule = hands.rule("lattice")
    assert (rule.spacing, rule.row_pitch, rule.pitch) == ("free", 50.0, pytest.approx(36.0))
    assert not form.rows["pitch"].isHidden()


def test_choices_by_glyph_and_dials_that_come_with_them(hands):
    form = hands.open("lattice")
    assert form.rows["shift"].isHidden()
    button = form.rows["form"].segments._buttons["staggered rows"]
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert hands.rule("lattice").form == "staggered rows"
    assert not form.rows["shift"].isHidden()
    hands.type_in(form.rows["shift"].fields[0], "30")
    hands.settle()
    assert hands.rule("lattice").shift == 30.0


def test_vary_turns_a_row_into_start_curve_end(hands):
    row = hands.row("ink", "fill_opacity")
    row.open_vary()
    hands.bot.waitUntil(lambda: row.panel.isVisible(), timeout=2000)
    assert isinstance(hands.rule("ink").fill_opacity, Varied)
    panel = row.panel
    panel.source.setCurrentIndex(panel.source.findText("with distance from the pivot"))
    panel.source.activated.emit(panel.source.currentIndex())
    panel.curve.setFocus()
    QTest.keyClick(panel.curve, Qt.Key.Key_Down)
    panel.close()
    hands.type_in(row.fields[1], "25")
    number = hands.rule("ink").fill_opacity
    assert (number.channel, number.curve, number.start, number.end) == ("distance", "smooth", 100.0, 25.0)
    assert row.caption.text() == "varies with distance from the pivot"
    row.stop_varying()
    assert hands.rule("ink").fill_opacity == 100.0
    assert len(row.fields) == 1


def test_seed_and_repeats_are_typed_stepped_and_held_to_their_range(hands):
    row = hands.row("ink", "fill_opacity")
    row.open_vary()
    hands.bot.waitUntil(lambda: row.panel.isVisible(), timeout=2000)
    panel = row.panel
    panel.source.setCurrentIndex(panel.source.findText(SENTENCES["chance"]))
    panel.source.activated.emit(panel.source.currentIndex())
    hands.type_in(panel.seed, "41")
    QTest.keyClick(panel.seed, Qt.Key.Key_Up)
    hands.type_in(panel.repeats, "2.5")
    QTest.keyClick(panel.repeats, Qt.Key.Key_Return)
    number = hands.rule("ink").fill_opacity
    assert (number.channel, number.seed, number.repeats) == ("chance", 42, 2.5)
    hands.type_in(panel.repeats, "0")
    hands.bot.waitUntil(lambda: panel.said.text() == "From 1 to 1000 is allowed", timeout=2000)
    assert hands.rule("ink").fill_opacity.repeats == 2.5
    panel.close()


def test_tab_goes_from_number_to_number_and_l_locks(hands):
    form = hands.open("lattice")
    gap, turn = form.rows["gap"].fields[0], form.rows["turn"].fields[0]
    hands.bot.wait(50)  # the order of Tab is made when the form rests
    gap.setFocus()
    QTest.keyClicks(gap, "2")
    QTest.keyClick(gap, Qt.Key.Key_L)
    assert hands.rule("lattice").holds("gap")
    assert hands.rule("lattice").gap == 2
    QTest.keyClick(gap, Qt.Key.Key_Tab)
    assert QApplication.focusWidget() is turn
    QTest.keyClicks(turn, "15")
    assert (hands.rule("lattice").turn, hands.rule("lattice").holds("turn")) == (15, False)


def test_opening_vary_changes_nothing_and_its_mark_and_key_open_it(hands):
    row = hands.row("ink", "fill_opacity")
    before = hands.rule("ink").fill_opacity
    mark = next(part for part in row.findChildren(VaryMark))
    QTest.mouseClick(mark, Qt.MouseButton.LeftButton)
    hands.bot.waitUntil(lambda: row.panel.isVisible() and row.fields[1].isVisible(), timeout=2000)
    number = hands.rule("ink").fill_opacity
    assert (number.start, number.end, number.channel) == (before, before, "column")
    assert row.panel.source.currentText() == "by column, left → right"
    row.panel.close()
    hands.bot.waitUntil(row.fields[1].hasFocus, timeout=2000)
    QTest.keyClicks(row.fields[1], "20")  # the whole number was selected
    assert hands.rule("ink").fill_opacity.end == 20
    hands.do("undo")
    hands.do("undo")
    assert hands.rule("ink").fill_opacity == before
    row.fields[0].setFocus()
    QTest.keyClicks(row.fields[0], "v")
    assert isinstance(hands.rule("ink").fill_opacity, Varied)
    assert row.panel.isVisible()
    row.panel.close()


def test_a_right_press_on_the_number_and_shift_f10_bring_the_dials_menu(hands):
    row = hands.row("ink", "fill_opacity")
    field, opened = row.fields[0], []
    row.menu = lambda: opened.append(1) or QMenu(row)
    at = field.rect().center()
    QApplication.sendEvent(field, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, field.mapToGlobal(at)))
    assert len(opened) == 1
    QTest.keyClick(field, Qt.Key.Key_Menu)
    assert len(opened) == 2
    QTest.keyClick(field, Qt.Key.Key_F10, Qt.KeyboardModifier.ShiftModifier)
    assert len(opened) == 3


@pytest.mark.parametrize("typed", ["vary", "lock", "reset", "formula", "undo"])
def test_the_search_finds_what_can_be_done_with_the_focused_dial(hands, typed):
    row = hands.row("ink", "fill_opacity")
    hands.window.activateWindow()
    hands.type_in(row.fields[0], "50")
    hands.bot.waitUntil(row.fields[0].hasFocus, timeout=5000)
    hands.do("find")
    (dialog,) = (one for one in hands.window.findChildren(CommandSearch) if one.isVisible())
    QTest.keyClicks(dialog.field, typed)
    first = dialog.list.item(0).text()
    assert first.startswith("Undo" if typed == "undo" else "Fill opacity:")
    QTest.keyClick(dialog.field, Qt.Key.Key_Return)
    value = lambda: hands.rule("ink").fill_opacity  # noqa: E731
    done = {
        "vary": lambda: isinstance(value(), Varied),
        "formula": lambda: isinstance(value(), Varied) and hasattr(row, "panel"),
        "undo": lambda: value() == 100,
        "lock": lambda: hands.rule("ink").holds("fill_opacity"), "reset": lambda: value() == 100,
    }  # fmt: skip
    hands.bot.waitUntil(done[typed], timeout=2000)


def test_a_repeat_can_vary_only_by_repeats_above_it(hands):
    row = hands.row("lattice", "columns")
    assert [words for words, _, possible in row.actions_here() if possible and "Vary" in words] == []
    row.open_vary()
    assert "needed first" in hands.studio.facts_line.sentence


def test_copy_value_and_menu(hands):
    row = hands.row("push-edges", "amount")
    words = [entry.text() for entry in row.menu().actions()]
    assert words[:3] == ["What it varies by…", "Stop varying", "Formula…"]
    assert words[3:5] == ["Start as a named dial…", "End as a named dial…"]
    strips = ["Test strip of its start", "Test strip of its end"]
    moves = [f"Move its {end}: {how}" for end in ("start", "end") for how in ("hang values", "swing")]
    assert words[5:] == ["Lock", *moves, *strips, "Siblings of this", "Lock all but this", "Reset", "Copy value"]
    row._copy()
    assert QGuiApplication.clipboard().text() == "0.00 → 5.40"


def test_palette_colours_change_live_as_one_step(hands):
    row = hands.row("ink", "palette")
    QTest.mouseClick(row.swatches[1], Qt.MouseButton.LeftButton)
    hands.type_in(row.panel.hex, "#3A7D44")
    assert hands.rule("ink").palette[1] == "#3A7D44"
    row.panel.sliders[2].setValue(2000)
    assert hands.rule("ink").palette[1] != "#3A7D44"
    row.panel.close()
    hands.do("undo")
    assert hands.rule("ink").palette[1] == "#C2694C"
    QTest.mouseClick(row.more, Qt.MouseButton.LeftButton)
    row.panel.close()
    assert len(hands.rule("ink").palette) == 4
    assert len(row.swatches) == 4


def test_chords_are_taken_when_they_can_be_read(hands):
    row = hands.row("split", "into")
    row.combo.setFocus()
    QTest.keyClicks(row.combo, "chords")
    QTest.keyClick(row.combo, Qt.Key.Key_Return)
    hands.bot.waitUntil(lambda: hands.rule("split").into == "chords", timeout=2000)
    text = hands.row("split", "chords")
    hands.type_in(text.field, "1-4")
    assert hands.rule("split").chords == "1-4"
    hands.bot.waitUntil(lambda: hands.studio.settled, timeout=10_000)


def test_a_pivot_is_chosen_from_the_list_and_its_offset_follows_the_keys(hands):
    row = hands.row("lattice", "pivot")
    row.combo.setCurrentText("motif corner 2")
    row.combo.textActivated.emit("motif corner 2")
    assert hands.rule("lattice").pivot.spot == "motif corner 2"
    hands.settle()
    hands.studio.sheet.setFocus()
    hands.studio.sheet.picked = "pivot"
    QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Right)
    assert row.fields["dx"].value == hands.rule("lattice").pivot.dx != 0.0


@pytest.mark.parametrize(
    ("language", "value", "said"), [("en_GB", 1000.0, "1000.00 mm"), ("de_DE", 1.125, "1,125 mm"), ("de_DE", 1.0, "1,00 mm")]
)
def test_a_number_that_may_be_read_in_two_ways_says_at_once_which(hands, language, value, said):
    QLocale.setDefault(QLocale(language))
    try:
        row = hands.row("lattice", "gap")
        hands.type_in(row.fields[0], "1,125" if value == 1.125 else "1,000")
        assert hands.rule("lattice").gap == value
        assert row.hint.said
        assert row.hint.said.lower() == f"read as {said}"
        QTest.keyClick(row.fields[0], Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        assert not row.hint.said
        hands.type_in(row.fields[0], "1,000")
        hands.type_in(row.fields[0], "12")
        assert not row.hint.said
        hands.type_in(row.fields[0], "1,000")
        assert row.hint.said
        QTest.keyClicks(row.fields[0], " ells")  # now it is no number
        assert not row.hint.said
        hands.bot.waitUntil(lambda: bool(row.error.said), timeout=3000)
        assert not row.hint.said
    finally:
        QLocale.setDefault(QLocale.c())


LETTERS = {keys[5] for command in COMMANDS for keys in command.shortcut.split() if len(keys) == 6 and keys[5].isalpha()}


def test_keys_of_commands_are_heard_from_within_a_number(hands, monkeypatch):
    def takes_every_key(field, event):  # some desktops give fields of text keys such as Ctrl+E and Ctrl+K, to edit with
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        return whole(field, event)

    done, whole = [], QLineEdit.event
    monkeypatch.setattr(QLineEdit, "event", takes_every_key)
    field = hands.row("lattice", "gap").fields[0]
    field.setFocus()
    for letter in sorted(LETTERS - {"Y", "Z"}):  # undo and redo have tests of their own
        key = next(one.key for one in COMMANDS if f"Ctrl+{letter}" in one.shortcut.split())
        monkeypatch.setitem(hands.window._functions, key, partial(done.append, letter))
        QTest.keyClick(field, getattr(Qt.Key, f"Key_{letter}"), Qt.KeyboardModifier.ControlModifier)
        assert (letter in done) == (letter not in "ACVX"), letter


def test_after_an_undo_within_a_field_typing_takes_the_place_of_what_it_shows(hands):
    """What comes from elsewhere into the field one is in is chosen whole, as after a press."""
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, "3")
    assert hands.rule("lattice").gap == 3.0
    hands.do("undo")
    assert hands.rule("lattice").gap == 0.0
    QTest.keyClicks(field, "6.5")
    assert hands.rule("lattice").gap == 6.5


def test_tab_goes_from_the_head_of_a_card_into_its_form(hands):
    """Also of one opened long after the others were made."""
    form = hands.open("push-edges")
    hands.settle()
    head = hands.card("push-edges").head
    head.setFocus()
    hands.bot.waitUntil(lambda: not form._ordering.isActive(), timeout=5000)
    QTest.keyClick(head, Qt.Key.Key_Tab)
    assert form.isAncestorOf(hands.window.focusWidget())


# -- formulas in fields ---------------------------------------------------------------------------
def test_a_sign_of_equality_in_a_field_begins_a_formula(showing):
    hands = showing(Polygon(size=20.0), Ink(), Lattice(form="squares", extent="by number", columns=4, rows=3), Adjust(turn=5.0))
    row = hands.row("adjust", "turn")
    hands.type_in(row.fields[0], "=")
    assert row.fields[0].text() == "5.00"  # the number is as it was
    QTest.keyClicks(row.panel.formula, "10 * col")
    hands.settle()
    assert hands.rule("adjust").turn.formula == "10 * col"
    hands.do("undo")  # all that was typed is one step
    hands.settle()
    assert getattr(hands.rule("adjust").turn, "formula", "") == ""
    hands.do("redo")
    assert hands.rule("adjust").turn.formula == "10 * col"


@pytest.mark.parametrize(
    ("text", "is_one"), [("3 + 1.5*sin(k/7)", True), (" 2*col ", True), ("1/0", False), ("weave", False), ("2 +", False)]
)
def test_a_formula_typed_without_its_sign_is_told_how_it_begins(showing, text, is_one):
    hands = showing(Polygon(size=20.0), Ink(), Lattice(form="squares", extent="by number", columns=4, rows=3), Adjust(turn=5.0))
    row = hands.row("adjust", "turn")
    hands.type_in(row.fields[0], text)
    QTest.keyClick(row.fields[0], Qt.Key.Key_Return)
    assert ("A formula begins with =" in row.error.said) is is_one
    assert "is allowed" in row.error.said
    pitch = hands.row("lattice", "turn")  # which cannot vary
    hands.type_in(pitch.fields[0], text)
    QTest.keyClick(pitch.fields[0], Qt.Key.Key_Return)
    assert "begins with" not in pitch.error.said


def test_a_formula_is_pasted_and_a_dial_that_cannot_vary_says_so(showing):
    hands = showing(Polygon(size=20.0), Ink(), Lattice(form="squares", extent="by number", columns=4, rows=3), Adjust(turn=5.0))
    row = hands.row("adjust", "turn")
    row.fields[0].selectAll()
    QGuiApplication.clipboard().setText("= 30 * u")
    row.fields[0].paste()
    hands.settle()
    assert hands.rule("adjust").turn.formula == "30 * u"
    QTest.keyClick(row.panel, Qt.Key.Key_Escape)
    hands.settle()
    pitch = hands.row("lattice", "turn").fields[0]
    hands.type_in(pitch, "= 3 * u")
    hands.bot.waitUntil(lambda: bool(hands.row("lattice", "turn").error.said), timeout=5000)
    assert hands.rule("lattice").turn == 0.0


def test_a_step_after_a_refusal_takes_its_mark_away(showing):
    hands = showing(Polygon(size=20.0), Lattice())
    field = hands.row("lattice", "gap").fields[0]
    hands.type_in(field, "= 2 + col / 3")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert field.property("wrong")
    QTest.keyClick(field, Qt.Key.Key_Up)
    assert not field.property("wrong")
    assert hands.rule("lattice").gap > 0


def test_a_closed_card_draws_its_formula_over_the_copies_there_are(showing):
    waves = Varied(rule="floor-lattice", channel="column", start=3.0, end=3.0, formula="3 + 1.5*sin(k/7)")
    hands = showing(Ellipse(width=waves), Ink(), Lattice(form="squares", extent="by number", columns=40, rows=3), handles=False)
    head = hands.card("motif").head
    assert hands.card("motif").form is None
    hands.bot.waitUntil(lambda: bool(hands.studio.facts.walks), timeout=10_000)
    hands.bot.waitUntil(lambda: head.walk is hands.studio.facts.walks["floor-lattice"], timeout=3000)
