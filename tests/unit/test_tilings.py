"""Tilings by regular polygons and their duals: every corner as its name says, nothing left over, rules that work on all tiles."""

from collections import Counter

import numpy as np
import pytest
import shapely

from tests.chains import evaluated, last_stage, tiles, work_of
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.geometry.outline import areas
from under_lattice.geometry.tilings import CONFIGURATIONS, dual, uniform
from under_lattice.measure.facts import measure
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.tiling import Tiling
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.contact_lines import ContactLines
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.wave_edges import WaveEdges
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import set_dial

LAID = Lattice(form="as the tiles lie", extent="by number", columns=4, rows=4)
COUNTS = {"4.4.4.4": 1, "3.3.3.3.3.3": 2, "6.6.6": 1, "4.8.8": 2, "3.12.12": 3, "3.6.3.6": 3, "3.4.6.4": 6, "4.6.12": 6,
          "3.3.3.4.4": 3, "3.3.4.3.4": 6, "3.3.3.3.6": 9}  # fmt: skip


def patch(cell, reach=2):
    where = range(-reach, reach + 1)
    return [tile + i * cell.vectors[0] + j * cell.vectors[1] for i in where for j in where for tile in cell.tiles]


def area(corners):
    x, y = corners.T
    return abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())) / 2


@pytest.mark.parametrize("name", CONFIGURATIONS)
def test_polygons_are_regular_and_fill_the_cell(name):
    cell = uniform(name)
    assert len(cell.tiles) == COUNTS[name]
    for tile in cell.tiles:
        assert np.hypot(*(np.roll(tile, -1, 0) - tile).T) == pytest.approx(1.0)
        assert np.ptp(np.hypot(*(tile - tile.mean(0)).T)) < 1e-9
    assert sum(map(area, cell.tiles)) == pytest.approx(abs(np.linalg.det(cell.vectors)), rel=1e-12)


@pytest.mark.parametrize("name", CONFIGURATIONS)
def test_around_every_corner_stand_the_polygons_of_its_name(name):
    cell = uniform(name)
    tiles_, wanted = patch(cell), [int(n) for n in name.split(".")]
    same = {tuple(wanted[k:] + wanted[:k])[::way] for k in range(len(wanted)) for way in (1, -1)}
    for corner in np.concatenate(cell.tiles):
        around = [tile for tile in tiles_ if (np.hypot(*(tile - corner).T) < 1e-6).any()]
        angles = [np.arctan2(*(tile.mean(0) - corner)[::-1]) for tile in around]
        assert tuple(len(around[k]) for k in np.argsort(angles)) in same


@pytest.mark.parametrize("name", CONFIGURATIONS)
def test_duals_fill_the_cell_with_tiles_that_are_all_alike(name):
    cell = dual(name)
    assert sum(map(area, cell.tiles)) == pytest.approx(abs(np.linalg.det(cell.vectors)), rel=1e-9)
    kinds = {(len(tile), round(area(tile), 9)) for tile in cell.tiles}
    assert len(kinds) == 1
    assert kinds.pop()[0] == name.count(".") + 1
    union = shapely.union_all(shapely.set_precision([shapely.Polygon(tile) for tile in patch(cell)], 1e-9))
    assert union.area == pytest.approx(25 * abs(np.linalg.det(cell.vectors)), rel=1e-6)


@pytest.mark.parametrize("name", CONFIGURATIONS)
@pytest.mark.parametrize("shows", ["the polygons", "the dual"])
@pytest.mark.parametrize("rule", [None, WaveEdges(height=Varied(rule="floor-lattice", channel="x", start=0.2, end=0.9), waves=2),
                                  PushEdges(amount=Varied(rule="floor-lattice", channel="x", start=0.1, end=0.6))],
                         ids=["plain", "waves", "pushed"])  # fmt: skip
def test_tiles_fit_also_with_edges_that_change(name, shows, rule):
    rules = [Tiling(meets=name, shows=shows, size=12.0, turn=7.0), *([rule] if rule else []), LAID]
    result = evaluated(*rules)
    assert not result.problems
    shapes, _ = tiles(result, 6 if isinstance(rule, WaveEdges) else 24)
    shapes = shapely.set_precision(shapes, 1e-9)
    union = shapely.union_all(shapes)
    assert union.area == pytest.approx(sum(shape.area for shape in shapes), rel=3e-6)
    assert union.area == pytest.approx(
        16 * 144 * abs(np.linalg.det((uniform if shows == "the polygons" else dual)(name).vectors)), rel=0.04
    )


def test_contact_lines_on_all_tiles():
    result = evaluated(Tiling(meets="4.8.8"), ContactLines(gives="the star"), LAID)
    marks = Evaluator().marks(result.last.stage, result.known)
    assert Counter(len(family.verbs) - 1 for family in marks.families) == {16: 1, 8: 1}
    whole = last_stage(Tiling(meets="3.4.6.4"), ContactLines(), LAID)
    assert whole.shape.faces == sum(1 + n for n in (6, 4, 4, 4, 3, 3))


def test_a_cover_leaves_no_part_of_the_sheet_bare():
    for name in ("4.6.12", "3.3.3.3.6"):
        result = evaluated(Tiling(meets=name, size=14.0), Lattice(form="as the tiles lie"))
        union = shapely.union_all(shapely.set_precision(tiles(result, 2)[0], 1e-9))
        assert union.covers(shapely.box(-162, -161, 162, 161).buffer(-1e-6))


def test_a_turned_and_sized_motif_takes_its_cell_along_and_a_gap_spreads_it():
    stage = last_stage(Tiling(meets="4.8.8", size=10.0), Adjust(turn=30.0, across=50.0, along=50.0), LAID)
    vectors = stage.found.net
    assert np.hypot(*vectors.a[0]) == pytest.approx(5 * (1 + np.sqrt(2)))
    assert np.degrees(np.arctan2(vectors.a[0, 1], vectors.a[0, 0])) == pytest.approx(30.0)
    spread = last_stage(Tiling(meets="4.8.8", size=10.0), LAID.model_copy(update={"gap": 3.0})).found.net
    assert np.hypot(*spread.b[0]) == pytest.approx(10 * (1 + np.sqrt(2)) + 3.0)


def test_tiles_on_another_lattice_are_told_and_cured():
    design, evaluator = work_of(Tiling(), Lattice(form="squares")).design, Evaluator()
    warn = next(w for w in measure(evaluate(design, evaluator)["floor"], evaluator, design.sheet).warnings if "fit" in w.sentence)
    cured = set_dial(design, "floor", warn.cure.rule, warn.cure.dial, warn.cure.value)
    assert not measure(evaluate(cured)["floor"], evaluator, design.sheet).warnings
    starred = work_of(Tiling(), ContactLines(), Lattice(form="as the tiles lie")).design
    assert measure(evaluate(starred)["floor"], evaluator, design.sheet).gap == 0.0  # of the stars as they are drawn


def test_only_tiles_say_how_they_lie():
    result = evaluated(Polygon(), LAID)
    assert "only the tiles of a motif Tiling" in result.problems[0].sentence
    total = sum(
        float(abs(areas(f.verbs, f.points)[0])) for f in Evaluator().marks(last_stage(Tiling()), evaluated(Tiling()).known).families
    )
    assert total == pytest.approx(256 * (1 + np.sqrt(2)) ** 2)
