"""Lines that copies follow, by hand: points are dragged, another layer is chosen from a list."""

import pytest

from tests.chains import SHEET
from under_lattice.library.layers import chain
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.along_curve import AlongCurve
from under_lattice.rules.repeats.spots import Spots, read_spots
from under_lattice.work.model import Design, Work


@pytest.fixture
def two(hands):
    """A work whose front layer follows points, with a ring behind it."""
    beads = chain("Beads", Ellipse(width=6.0), AlongCurve(points="-60, 0; 0, 0; 60, 0", count=9))
    ring = chain("Ring", Ellipse(width=160.0))
    hands.window.show_work(Work(design=Design(name="Trial", sheet=SHEET, layers=(beads, ring))))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies > 0, timeout=20_000)
    hands.open("along-curve")
    hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=10_000)
    return hands


def test_a_point_is_dragged_as_one_step_and_copies_follow_the_line(two):
    before, scale = two.document.design, two.studio.sheet.scale
    two.drag(two.studio.sheet, two.handle("point 2"), (11, 80))
    two.settle()
    points = read_spots(two.rule("along-curve").points)
    assert points[1, 1] == pytest.approx(80 / scale, abs=0.5)
    assert points[0, :2].tolist() == [-60, 0]
    assert two.studio.facts.copies == 9
    two.do("undo")
    assert two.document.design == before


def test_a_point_is_added_between_two_and_taken_away_upon_its_neighbour(two):
    two.drag(two.studio.sheet, two.handle("new 2"), (5, -60))
    two.settle()
    assert len(read_spots(two.rule("along-curve").points)) == 4
    scale = two.studio.sheet.scale
    points = read_spots(two.rule("along-curve").points)[:, :2]
    way = (points[0] - points[1]) * scale
    two.drag(two.studio.sheet, two.handle("point 2"), (round(way[0]), round(way[1])))
    two.settle()
    assert read_spots(two.rule("along-curve").points)[:, 0].tolist() == [-60, 0, 60]


def test_another_layer_is_chosen_by_its_name_and_its_outline_followed(two):
    form = two.open("along-curve")
    form.rows["line"].combo.textActivated.emit("another layer")
    two.settle()
    assert not form.rows["layer"].isHidden()
    combo = form.rows["layer"].combo
    assert [combo.itemText(k) for k in range(combo.count())] == ["none", "Ring"]
    combo.activated.emit(1)
    two.settle()
    assert two.rule("along-curve").layer == two.document.design.layers[1].id
    spacing = two.card("along-curve").form.rows["spacing"]
    two.bot.waitUntil(lambda: spacing.derived is not None and "pitch 55.8" in spacing.derived.text(), timeout=5000)


def test_spots_snap_to_the_copies_corners_and_edges_of_another_layer(hands):
    dots = chain("Dots", Ellipse(width=5.0), Spots(spots="-70, 31; 10, 12", near="tile"))
    tile = chain("Tile", Polygon(sides=4, measure="side", size=60.0, stands="on a flat"))
    hands.window.show_work(Work(design=Design(name="Trial", sheet=SHEET, layers=(dots, tile))))
    hands.bot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 2, timeout=20_000)
    hands.open("spots")
    hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=10_000)
    scale = hands.studio.sheet.scale
    hands.drag(hands.studio.sheet, hands.handle("spot 1"), (round(40 * scale) + 2, 0))
    hands.settle()
    assert read_spots(hands.rule("spots").spots)[0, :2].tolist() == [-30, 30]  # a corner
    hands.drag(hands.studio.sheet, hands.handle("spot 2"), (round(-10 * scale) - 2, round(18 * scale) + 2))
    hands.settle()
    assert read_spots(hands.rule("spots").spots)[1, :2].tolist() == [0, 30]  # the middle of an edge
