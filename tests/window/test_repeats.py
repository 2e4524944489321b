"""Repeats by hand: the first copy is held and the rest follow, pivots stay where they are put, the end of a run gives the count."""

import math

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from under_lattice.declare.frozen import edited
from under_lattice.geometry.affine import turns
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.repeats.spots import Spots, read_spots
from under_lattice.rules.repeats.symmetry import Symmetry
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Grid


def drag(hands, name, by, keep=True):
    hands.drag(hands.studio.sheet, hands.handle(name), by, keep)
    hands.settle()


def test_the_first_copy_is_dragged_and_the_rest_follow(showing):
    hands = showing(Polygon(size=20.0), Progression(count=5, distance=30.0))
    scale = hands.studio.sheet.scale
    before = hands.document.design
    drag(hands, "first", (0, 50))
    rule = hands.rule("progression")
    assert rule.distance == pytest.approx(math.hypot(30, 50 / scale), abs=0.5)
    assert rule.direction == pytest.approx(math.degrees(math.atan2(50 / scale, 30)), abs=1.0)
    hands.do("undo")
    assert hands.document.design == before  # one step
    drag(hands, "first", (0, 40), keep=False)
    QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Escape)
    assert hands.document.design == before  # given up


def test_the_end_of_a_run_gives_the_count(showing):
    hands = showing(Polygon(size=10.0), Progression(count=4, distance=20.0))
    one = hands.studio.sheet.scale * 20.0
    drag(hands, "end", (round(2 * one), 0))
    assert hands.rule("progression").count == 6
    drag(hands, "end", (-round(3 * one), 0))
    assert hands.rule("progression").count == 3


def test_dragging_a_pivot_leaves_the_other_pivots_alone(showing):
    hands = showing(
        Polygon(size=16.0), Rosette(count=6, radius=30.0), Progression(count=3, distance=0.0, turn=20.0, turn_about="the pivot")
    )
    ring = hands.rule("rosette")
    drag(hands, "pivot", (63, 41))
    assert hands.rule("progression").pivot != Anchor()
    assert hands.rule("rosette") == ring


def test_a_rosette_is_sized_by_its_first_copy_and_counted_by_its_second(showing):
    hands = showing(Polygon(size=16.0), Rosette(count=12, radius=60.0))
    drag(hands, "first", (0, -40))
    rule = hands.rule("rosette")
    assert rule.radius == pytest.approx(60.0 + 40 / hands.studio.sheet.scale, abs=1.0)
    assert rule.begin == 0.0
    second, pivot = hands.handle("second"), hands.handle("pivot")
    away = pivot.y() - hands.handle("first").y()
    drag(hands, "second", (pivot.x() + round(0.866 * away) - second.x(), pivot.y() - round(0.5 * away) - second.y()))
    assert hands.rule("rosette").count == 6


def test_the_golden_angle_is_found_by_hand(showing):
    hands = showing(Ellipse(width=6.0), SeedHead(count=150, divergence="free", angle=140.0, spacing=18.0, skip=1))
    start, pivot = hands.handle("divergence"), hands.handle("pivot")
    away = start - pivot
    # turned a little back towards the golden angle, at right angles to the way out
    drag(hands, "divergence", (round(away.y() * 0.0436), round(-away.x() * 0.0436)))
    assert hands.rule("seed-head").divergence == "golden"


def test_the_mirror_is_turned(showing):
    hands = showing(Polygon(sides=3, size=30.0), Mirror())
    end, pivot = hands.handle("line"), hands.handle("pivot")
    drag(hands, "line", (pivot.x() - end.x() + (end.y() - pivot.y()), pivot.y() - end.y()))
    assert hands.rule("mirror").angle in (0.0, -180.0, 180.0)


def test_a_number_varies_by_the_steps_of_its_own_rule(showing):
    hands = showing(Polygon(size=16.0), Progression(count=5, distance=20.0))
    row = hands.row("progression", "turn")
    row.open_vary()
    value = hands.rule("progression").turn
    assert isinstance(value, Varied)
    assert value.rule == hands.rule("progression").id
    assert row.panel.source.count() == 2  # its steps, or chance
    row.panel.close()


def test_what_follows_is_said_beside_the_dials(showing):
    hands = showing(Polygon(), Progression(count=30, turn=3.0, across=97.5, along=97.5))
    form = hands.open("progression")
    hands.bot.waitUntil(lambda: "last 47.99 %" in form.rows["across"].hint.said, timeout=10_000)
    assert "looks like 27" in form.rows["turn"].hint.said


def test_rules_are_copied_to_another_layer(showing):
    hands = showing(
        Polygon(size=24.0), Progression(count=5), Rosette(count=Varied(rule="floor-progression", channel="step", start=3, end=7))
    )
    first = hands.layer
    hands.window.layer_actions.duplicate_layer(first.id)
    hands.studio.choose_layer(first.id)  # the copy was chosen
    other = next(chain for chain in hands.document.design.chains() if chain.id != first.id)
    hands.window.chain_actions.copy_rules(tuple(rule.id for rule in first.rules), other.id)
    rules = hands.document.design.chain(other.id).rules
    assert [rule.kind for rule in rules] == ["polygon", "progression", "rosette", "progression", "rosette"]
    assert rules[4].count.rule == rules[3].id
    assert len({rule.handle for rule in rules}) == 5


def test_a_symmetry_group_is_chosen_by_its_picture_and_the_motif_moved_by_hand(showing):
    hands = showing(Polygon(sides=3, size=14.0), Symmetry(width=60.0, height=60.0))
    hands.do("choose_group")
    chooser = hands.window.findChild(PictureChooser)
    assert len(chooser.tiles) == 17
    hands.bot.waitUntil(lambda: chooser.tiles["group:p6m"].picture is not None, timeout=30_000)
    QTest.mouseClick(chooser.tiles["group:p6m"], Qt.MouseButton.LeftButton)
    assert hands.rule("symmetry").group == "p6m"
    hands.settle()
    before = hands.rule("symmetry")
    drag(hands, "motif", (33, 21))
    after, scale = hands.rule("symmetry"), hands.studio.sheet.scale
    assert (after.x - before.x, after.y - before.y) == pytest.approx((33 / scale, 21 / scale), abs=0.5)


def test_a_formula_is_taken_while_it_is_typed(showing):
    hands = showing(Polygon(size=16.0), Progression(count=5, distance=20.0))
    row = hands.row("progression", "turn")
    row.open_vary()
    panel = row.panel
    hands.type_in(panel.formula, "10 + wib")
    assert "is not known here" in panel.said.text()
    assert hands.rule("progression").turn.formula == "10"  # the last that could be read
    hands.type_in(panel.formula, "10 + 5 * k")
    turn = hands.rule("progression").turn
    assert (turn.formula, turn.start, turn.end) == ("10 + 5 * k", 10.0, 30.0)
    assert not panel.curve.isEnabled()
    panel.close()
    assert "= 10 + 5 * k" in row.caption.text()
    assert row.fields[0].isReadOnly()


def test_a_pivot_snaps_to_the_construction_grid_also_where_the_rule_is_turned(showing):
    hands = showing(Polygon(size=10.0), Rosette(count=5, radius=40.0), Adjust(turn=30.0, pivot=Anchor(spot="sheet centre")))
    sheet = edited(hands.document.design.sheet, grid=Grid(spacing=30.0, form="triangles"))
    hands.do("grid")
    hands.document.apply("grid", edited(hands.document.design, sheet=sheet))
    hands.open("rosette")
    hands.settle()
    scale = hands.studio.sheet.scale
    drag(hands, "pivot", (round(60 * scale) + 3, -2))
    pivot = hands.rule("rosette").pivot
    at = turns(30.0)[:, :2] @ (pivot.dx, pivot.dy)
    assert at == pytest.approx((60.0, 0.0), abs=0.01)


def test_a_spot_is_dragged_and_the_others_stay(showing):
    hands = showing(Polygon(size=10.0), Spots(spots="-40, 0; 40, 0"))
    scale = hands.studio.sheet.scale
    drag(hands, "spot 2", (0, round(30 * scale)))
    spots = read_spots(hands.rule("spots").spots)
    assert spots[0, :2].tolist() == [-40.0, 0.0]
    assert spots[1, :2] == pytest.approx((40.0, 30.0), abs=0.5)
