"""No word is cut off: all forms, pages and panels, at the common size of text and larger, light and dark, on small screens."""

import pytest
from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QFontMetrics
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QPushButton,
    QStyle,
    QStyleOptionButton,
    QStyleOptionComboBox,
    QToolButton,
    QWidget,
)

from tests.chains import evaluated, work_of
from tests.window.conftest import Hands, gone
from under_lattice.declare.frozen import edited
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.rules import FAMILIES
from under_lattice.rules.copies.combine import Combine
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.ui.look import style
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import CHAIN_WIDTH, LOOK
from under_lattice.ui.panels.card import Card
from under_lattice.ui.state.document import Document
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Design, Sheet, Work

DRESSED = True  # what is looked at here are sizes

SLACK = 1  # px
WRAPS = int(Qt.TextFlag.TextWordWrap)


def cut(widget):
    """What of a widget's words cannot be read, or nothing."""
    if isinstance(widget, QLabel) and widget.text() and not widget.pixmap().width():
        metrics = QFontMetrics(widget.font())
        if widget.wordWrap():
            room = QRect(0, 0, max(1, widget.contentsRect().width()), 10_000)
            return widget.text() if metrics.boundingRect(room, WRAPS, widget.text()).height() > widget.height() + 3 else ""
        lines = widget.text().split("\n")
        wide = max(QFontMetrics(widget.font()).horizontalAdvance(line) for line in lines)
        return widget.text() if wide > widget.contentsRect().width() + SLACK else ""
    if isinstance(widget, (QPushButton, QToolButton)) and widget.text():
        if isinstance(widget, QToolButton) and widget.toolButtonStyle() == Qt.ToolButtonStyle.ToolButtonIconOnly:
            return ""
        wide = QFontMetrics(widget.font()).horizontalAdvance(widget.text().replace("&&", "&"))
        return widget.text() if wide > room_of(widget) + SLACK else ""
    if isinstance(widget, QLineEdit) and widget.text():
        margins = widget.textMargins()
        free = widget.contentsRect().width() - margins.left() - margins.right() - 4
        number = hasattr(widget, "dial")
        return widget.text() if number and QFontMetrics(widget.font()).horizontalAdvance(widget.text()) > free else ""
    if isinstance(widget, QComboBox) and widget.currentText():
        option = QStyleOptionComboBox()
        widget.initStyleOption(option)
        field, control = QStyle.SubControl.SC_ComboBoxEditField, QStyle.ComplexControl.CC_ComboBox
        box = widget.style().subControlRect(control, option, field, widget)
        across = QFontMetrics(widget.font()).horizontalAdvance(widget.currentText())
        return widget.currentText() if across > box.width() + SLACK else ""
    return ""


def room_of(button):
    """How wide the words of a button may be; a single sign stands in its middle, whatever the style keeps free."""
    if isinstance(button, QToolButton) or len(button.text()) == 1:
        return button.width()
    option = QStyleOptionButton()
    button.initStyleOption(option)
    return button.style().subElementRect(QStyle.SubElement.SE_PushButtonContents, option, button).width()


def cut_in(parent):
    """All words that cannot be read, and whose they are; what elides on purpose ends with dots and has a tip or a name."""
    words = {widget: cut(widget) for widget in parent.findChildren(QWidget) if widget.isVisible()}
    return [
        f"{type(one).__name__} “{said[:60]}”, {one.width()} px" for one, said in words.items() if said and not said.endswith("…")
    ]


@pytest.fixture(params=[(1.0, "light"), (2.0, "dark")], ids=["100%", "200% dark"])
def large(request, qapp, monkeypatch):
    scale, theme = request.param
    monkeypatch.setattr(style, "_text_scale", lambda: scale)
    LOOK.wish = theme
    style.dress(qapp)
    yield scale
    monkeypatch.undo()
    LOOK.wish = "light"
    style.dress(qapp)


def whole_of(rule):
    """A work in which the dials of a rule can be seen."""
    before = () if rule.family in ("motif", "end") else (Polygon(size=20.0), Lattice(form="squares"))
    return (*before, rule) if rule.family != "end" else (Polygon(size=20.0),)


@pytest.mark.parametrize("large", [(2.0, "dark")], indirect=True, ids=["200% dark"])
def test_no_word_of_any_form_is_cut_off(large, qtbot):
    problems = {}
    for kind in (kind for _, kinds in FAMILIES for kind in kinds):
        rule = kind.model_validate({"kind": kind.model_fields["kind"].default})
        layer = chain("Floor", *whole_of(rule))
        document = Document(Work(design=Design(sheet=Sheet(), layers=(layer,))))
        shown = layer.end if kind.family == "end" else layer.rules[-1]
        card = Card(Hand(document, layer.id, shown.id, print))
        qtbot.addWidget(card)
        style.wear(card)
        card.set_open(True, True)
        card.refresh(shown, 12, "")
        card.show()
        QApplication.processEvents()
        found = cut_in(card)
        if found:
            problems[kind.__name__] = found
        card.close()
    assert not problems


@pytest.mark.parametrize("size", [(1024, 700), (1366, 768), (2560, 1400)])
def test_no_word_of_the_pages_is_cut_off_and_nothing_is_off_the_window(window, qtbot, size):
    window.resize(*size)
    window.show_book()
    window.show()
    QApplication.processEvents()
    assert (window.width(), window.height()) == size
    assert not cut_in(window.start_page)
    columns = window.start_page.columns()
    assert columns == max(1, (size[0] - 320 - 48 - 8 + 18) // 230) or abs(columns - (size[0] - 368) / 230) < 1.2
    window.show_work(demo("entrance-floor"))
    hands = Hands(qtbot, window)
    hands.settle()
    qtbot.waitUntil(lambda: window.studio.facts.copies > 0, timeout=20_000)
    QApplication.processEvents()
    assert (window.width(), window.height()) == size
    assert not cut_in(window.strip) + cut_in(window.studio.column) + cut_in(window.studio.tray)
    window.show_work(demo("seed-clock"))
    window.studio.looked.string = True
    window.studio.string.rows.threads["breath"].choose(1)
    hands.settle()
    QApplication.processEvents()
    assert (window.width(), window.height()) == size
    assert not cut_in(window.studio.string)
    for part in (window.strip.export, window.strip.keep, window.studio.sheet, window.studio.facts_line):
        right = part.mapTo(window, part.rect().bottomRight())
        assert right.x() <= window.width()
        assert right.y() <= window.height()


@pytest.mark.parametrize("large", [(2.0, "dark")], indirect=True, ids=["200% dark"])
def test_no_word_of_the_export_page_is_cut_off_for_anyone(large, window, qtbot):
    dialog = ExportDialog(demo("seed-clock"), None, window)
    dialog.show()
    problems = {}
    for who in [*dialog.purposes.buttons()]:
        who.click()
        for kind in [one for one in dialog.formats.buttons() if not one.isHidden()]:
            kind.click()
            for part in dialog.findChildren(QPushButton):
                if part.objectName() == "more" and part.isVisible() and part.text().startswith("More"):
                    part.click()
            QApplication.processEvents()
            if found := cut_in(dialog):
                problems[who.text(), kind.text()] = found
    assert not problems
    gone(dialog)


def test_the_column_grows_with_the_text(large, window, qtbot):
    window.resize(1600, 1000)
    window.show()
    window.show_work(demo("entrance-floor"))
    QApplication.processEvents()
    assert window.studio.column.width() == round(CHAIN_WIDTH * large)
    assert not cut_in(window.studio.column) + cut_in(window.strip)
    head = next(iter(window.studio.chain.cards.values())).head
    assert head.height() >= QFontMetrics(head.font()).height()


def test_the_column_is_put_away_by_one_key_and_comes_back_by_it(hands):
    assert hands.studio.column.isVisible()
    hands.do("column")
    assert not hands.studio.column.isVisible()
    assert hands.window.focusWidget() is hands.studio.sheet
    hands.do("column")
    assert hands.studio.column.isVisible()
    assert hands.window.actions_by_key["column"].shortcut().toString() == "F9"


def test_the_tray_waits_where_the_sheet_would_be_too_narrow(window, qtbot):
    window.show()
    window.show_work(work_of(Polygon(size=20.0)))
    window.actions_by_key["tray"].setChecked(True)
    window.studio.want_tray(True)
    window.resize(1200, 700)
    qtbot.waitUntil(window.studio.tray.isVisible, timeout=2000)
    window.resize(900, 700)
    qtbot.waitUntil(lambda: not window.studio.tray.isVisible(), timeout=2000)
    assert window.actions_by_key["tray"].isChecked()
    window.resize(1200, 700)
    qtbot.waitUntil(window.studio.tray.isVisible, timeout=2000)


def test_an_open_list_shows_its_last_row_and_its_longest_words_whole(large, qtbot):
    seen = set()
    for rows in (1, 2, 6, 13, 16, 60):
        combo = QuietCombo("Rows")
        combo.addItems([f"row {k}" for k in range(rows - 1)] + ["as the layer before it, but in step over all shapes"])
        qtbot.addWidget(combo)
        style.wear(combo)
        combo.resize(120, combo.sizeHint().height())
        combo.show()
        combo.showPopup()
        view, last = combo.view(), combo.model().index(rows - 1, 0)
        assert view.viewport().width() >= QFontMetrics(combo.font()).horizontalAdvance(last.data())
        fits = (
            min(rows, combo.maxVisibleItems()) * view.visualRect(last).height() < combo.screen().availableGeometry().height() // 2
        )
        if rows <= combo.maxVisibleItems() and fits:
            assert view.visualRect(last).bottom() <= view.viewport().height()
            assert not view.verticalScrollBar().isVisible()
            box = view.parentWidget()
            scrollers = [part for part in box.findChildren(QWidget) if "Scroller" in part.metaObject().className()]
            assert not scrollers  # which take the place of rows where the list lies over its closed form
            seen.add(rows)
        combo.hidePopup()
    assert {1, 2, 6} <= seen


def test_a_list_too_narrow_for_its_words_cuts_them_at_a_letter_where_it_was_asked_to(qapp, qtbot):
    left, right = Qt.TextElideMode.ElideLeft, Qt.TextElideMode.ElideRight
    pictures = []
    for cut, layer, dial in (
        (left, "Whirls", "Turn"),
        (left, "Eddies", "Turn"),
        (right, "Whirls", "Turn"),
        (right, "Whirls", "Size"),
    ):
        combo = QuietCombo("A list", cut)
        qtbot.addWidget(combo)
        combo.addItem(f"{layer}: Progression: {dial}")
        combo.setFixedSize(130, 28)
        pictures.append(combo.grab().toImage())
    assert pictures[0] == pictures[1]  # the end is seen
    assert pictures[2] == pictures[3]  # the beginning is seen
    assert pictures[0] != pictures[2]


def test_signs_of_the_file_dialog_are_large_enough_to_be_read(hands, tmp_path):
    dialog = QFileDialog(hands.window, "Save as", str(tmp_path))
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.show()
    hands.bot.waitExposed(dialog)
    buttons = dialog.findChildren(QToolButton)
    assert len(buttons) >= 3
    for button in buttons:
        button.setEnabled(True)  # which of them can be pressed hangs on where the dialog was before
        seen = button.grab().toImage()
        across, down = range(2, seen.width() - 2), range(2, seen.height() - 2)
        ground = seen.pixelColor(2, 2)
        drawn = [(x, y) for x in across for y in down if seen.pixelColor(x, y) != ground]
        spans = [max(places) - min(places) for places in zip(*drawn, strict=True)]
        assert max(spans) >= 11, button.objectName()
    dialog.close()


@pytest.mark.parametrize("name", ["", "Waves along the edges of the water in the pool"])
@pytest.mark.parametrize("large", [(1.0, "light"), (2.0, "dark")], indirect=True, ids=["100%", "200% dark"])
def test_what_varies_over_a_repeat_is_named_in_its_card_but_not_its_own_dials(large, window, qtbot, name):
    over = Varied(rule="floor-along-curve", channel="step", start=50.0, end=100.0)
    edges = PushEdges(name=name, amount=edited(over, start=0.0, end=5.0))
    hands = Hands(qtbot, window).show(work_of(Polygon(size=20.0), edges, AlongCurve(size=over)))
    form = hands.open("along-curve")
    hands.settle()
    if not form.more.isChecked():
        QTest.mouseClick(form.more, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: form.rows["size"].isVisible(), timeout=5_000)
    links = [one for one in form.findChildren(QPushButton) if one.accessibleName().endswith("varies over this")]
    assert [one.accessibleName() for one in links] == [f"{name or 'Push edges'}: Amount varies over this"]
    assert links[0].isVisible()
    assert not cut_in(form)
    assert not [one for one in links if room_of(one) < one.fontMetrics().horizontalAdvance(one.text())]


@pytest.mark.parametrize("large", [(2.0, "dark")], indirect=True, ids=["200% dark"])
def test_what_follows_from_a_choice_is_read_whole(large, window, qtbot):
    hands, met, problems = Hands(qtbot, window), 0, {}
    works = [
        whole_of(kind.model_validate({"kind": kind.model_fields["kind"].default, "id": "said"}))
        for _, kinds in FAMILIES
        for kind in kinds
        if kind.family in ("repeat", "copies", "shape")
    ]
    for rules in ((Polygon(size=20.0), Combine(id="said")), *works):
        found = evaluated(*rules)
        if not any(step.stage is not None and step.stage.found.said for step in found.steps):
            continue
        hands.show(work_of(*rules))
        form = hands.open(rules[-1].kind)
        form.more.setChecked(True)
        qtbot.wait(30)
        met += 1
        if cut_off := cut_in(form):
            problems[rules[-1].kind] = cut_off
    assert met > 4
    assert not problems
