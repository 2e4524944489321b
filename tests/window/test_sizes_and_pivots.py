"""Sizes that are one number, pivots with their numbers, totals and steps that are both typed, choices that keep what they gave."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.window.conftest import Hands
from under_lattice.library.blank import blank
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.pixel_motif import PixelMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.weave import Weave
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied


def click(widget):
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


@pytest.mark.parametrize("rule", [Progression(), Adjust(across=50.0, along=50.0)], ids=lambda rule: rule.kind)
def test_size_is_one_number_until_it_is_unfolded(showing, rule):
    hands = showing(Polygon(size=20.0), rule)
    size = hands.row(rule.kind, "across")
    other = hands.row(rule.kind, "along")
    assert size.label.text() == "Size"
    assert other.isHidden()
    steps = hands.document.at
    hands.type_in(size.fields[0], "90")
    QTest.keyClick(size.fields[0], Qt.Key.Key_Return)
    now = hands.rule(rule.kind)
    assert (now.across, now.along) == (90.0, 90.0)
    assert hands.document.at == steps + 1
    hands.do("undo")
    assert hands.rule(rule.kind).along == rule.along
    hands.do("redo")
    click(size.unfold)
    assert size.label.text() == "Size across"
    assert other.isVisible()
    hands.type_in(other.fields[0], "60")
    now = hands.rule(rule.kind)
    assert (now.across, now.along) == (90.0, 60.0)
    hands.type_in(other.fields[0], "90")  # alike by the way: two rows stay two
    assert other.isVisible()
    hands.type_in(other.fields[0], "60")
    click(next(part for part in other.findChildren(type(hands.studio.facts_line.cure)) if part.text() == "One size for both"))
    now = hands.rule(rule.kind)
    assert (now.across, now.along) == (90.0, 90.0)
    assert size.label.text() == "Size"
    assert other.isHidden()


def test_a_size_that_varies_is_locked_reset_and_named_is_one_too(showing, monkeypatch):
    hands = showing(Polygon(size=10.0), Lattice(form="squares", gap=4.0), Adjust(scope="each"), handles=False)
    size = hands.row("adjust", "across")
    size.open_vary()
    size.panel.close()
    hands.type_in(size.fields[1], "30")
    rule = hands.rule("adjust")
    assert isinstance(rule.across, Varied)
    assert rule.across == rule.along
    assert rule.across.end == 30.0
    size.stop_varying()
    click(size.lock)
    rule = hands.rule("adjust")
    assert rule.holds("across")
    assert rule.holds("along")
    assert not rule.holds("turn")
    click(size.lock)
    assert not hands.rule("adjust").locked
    monkeypatch.setattr("under_lattice.ui.dials.tie_actions.QInputDialog.getText", lambda *a, **k: ("Tile", True))
    next(act for words, act, _ in size.actions_here() if words == "Make a named dial of it…")()
    assert [place for place, _ in hands.rule("adjust").ties] == ["across", "along"]
    assert len(hands.document.design.dials) == 1
    hands.type_in(hands.row("adjust", "across").fields[0], "70")
    assert hands.document.design.dials[0].value == hands.rule("adjust").along == 70.0


def test_different_sizes_stand_in_two_rows_at_once(showing):
    hands = showing(Polygon(size=20.0), Progression(across=90.0, along=80.0))
    assert hands.row("progression", "along").isVisible()
    assert hands.row("progression", "across").label.text() == "Size across"


def test_a_pivot_has_its_numbers_and_says_when_it_has_no_effect(showing):
    hands = showing(Polygon(size=20.0), Progression(count=6, distance=25.0, turn=10.0))
    row = hands.row("progression", "pivot")
    assert all(field.isVisible() for field in row.fields.values())
    assert any("no effect" in handle.words for handle in hands.studio.sheet.handles.handles if handle.name == "pivot")
    hands.type_in(row.fields["dx"], "-80")
    hands.type_in(row.fields["dy"], "0")
    assert hands.rule("progression").pivot == Anchor(dx=-80.0)
    assert row.idle.isVisible()
    assert "no effect" in row.idle.words.text()
    before = hands.studio.results["floor"].last.stage.xform.copy()
    click(row.idle.cure)
    hands.settle()
    rule = hands.rule("progression")
    assert (rule.turn_about, rule.size_about) == ("the pivot", "the pivot")
    assert row.idle.isHidden()
    assert abs(hands.studio.results["floor"].last.stage.xform - before).max() > 1.0
    assert hands.row("progression", "turn_about").isVisible()
    assert hands.row("progression", "size_about").isVisible()


def test_in_a_whirl_the_dragged_pivot_acts_at_once(hands):
    hands.window.show_work(blank("whirl"))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies > 0, timeout=20_000)
    hands.open("progression")
    before = hands.studio.results[hands.layer.id].last.stage.xform.copy()
    hands.drag(hands.studio.sheet, hands.handle("pivot"), (60, 20))
    hands.settle()
    after = hands.studio.results[hands.layer.id].last.stage.xform
    assert abs(after[-1] - before[-1]).max() > 1.0


def test_the_angle_between_copies_and_the_arc_are_both_typed(showing):
    hands = showing(Polygon(size=8.0), Rosette(count=18, radius=60.0))
    arc, apart = hands.row("rosette", "arc"), hands.row("rosette", "apart")
    assert (arc.fields[0].value, apart.fields[0].value) == (360.0, 20.0)
    hands.type_in(apart.fields[0], "10")
    hands.settle()
    hands.bot.waitUntil(lambda: arc.fields[0].value == pytest.approx(170.0), timeout=5000)
    assert hands.rule("rosette").count == 18
    assert len(hands.studio.results["floor"].last.stage.xform) == 18
    hands.type_in(apart.fields[0], "20")
    hands.bot.waitUntil(lambda: arc.fields[0].value == pytest.approx(360.0), timeout=5000)
    hands.type_in(arc.fields[0], "90")
    hands.bot.waitUntil(lambda: apart.fields[0].value == pytest.approx(90 / 17), timeout=5000)
    assert hands.rule("rosette").spread == "the arc"


@pytest.mark.parametrize(
    ("rule", "name", "to", "kept"),
    [
        (Lattice(form="squares"), "extent", "by number", ("columns", "rows")),
        (Progression(extent="until it leaves the sheet", distance=17.0), "extent", "by number", ("count",)),
        (SeedHead(extent="covers the sheet", spacing=9.0), "extent", "by number", ("count",)),
        (Lattice(form="squares"), "spacing", "free", ("pitch",)),
    ],
    ids=lambda value: getattr(value, "kind", value) if not isinstance(value, tuple) else "",
)
def test_a_choice_that_gives_numbers_back_leaves_the_picture_as_it_was(showing, rule, name, to, kept):
    hands = showing(Polygon(size=17.0), rule)
    known = dict(hands.studio.facts.values["floor-" + rule.kind])
    copies = hands.studio.facts.copies
    row = hands.row(rule.kind, name)
    row.combo.setCurrentText(to)
    row.combo.textActivated.emit(to)
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.of is hands.layer, timeout=10_000)
    for one in kept:
        assert getattr(hands.rule(rule.kind), one) == pytest.approx(known[one])
    assert hands.studio.facts.copies == copies or rule.kind == "seed-head"
    hands.do("undo")
    assert getattr(hands.rule(rule.kind), kept[0]) == getattr(rule, kept[0])


def test_what_a_cure_did_is_told_and_too_small_copies_are_no_doubles(showing):
    hands = showing(Polygon(size=60.0), Progression(count=400, distance=0.0, across=90.0, along=90.0))
    hands.bot.waitUntil(lambda: bool(hands.studio.facts.warnings), timeout=10_000)
    said = [warn.sentence for warn in hands.studio.facts.warnings]
    assert any("too small to be seen" in one for one in said)
    assert not any("exactly on another" in one for one in said)
    cure = hands.studio.facts_line.cure
    assert cure.text().startswith("Use ")
    click(cure)
    count = hands.rule("progression").count
    assert 50 < count < 110
    assert hands.studio.facts_line.sentence == f"Progression, copies: 400 → {count:g}"


def test_nothing_is_warned_of_that_a_rule_or_motif_just_brought(showing):
    hands = showing(Polygon(size=20.0), Adjust())
    assert not hands.studio.facts.warnings
    hands = showing(PixelMotif(), Ink(), handles=False)
    assert not hands.studio.facts.warnings
    form = hands.open("ink")
    assert form.whole.isVisible()
    assert "keeps its own colours" in form.whole.words.text()
    assert "no say" in hands.card("ink").head.line
    click(form.whole.cure)
    assert hands.layer.rules[0].colours == "from the inks"
    assert form.whole.isHidden()
    assert "no say" not in hands.card("ink").head.line


def test_the_pieces_of_a_weave_are_counted(showing):
    hands: Hands = showing(Weave())
    pieces = hands.studio.facts.pieces
    assert pieces > 20
    assert hands.studio.facts_line.copies.text() == f"{pieces} pieces in all"
