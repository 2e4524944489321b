"""Lettering as outlines, and facets."""

import numpy as np
import pytest

from tests.chains import evaluated, last_stage, tiles
from under_lattice.core.errors import InputError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.lettering import SHIPPED, letters
from under_lattice.geometry.outline import areas
from under_lattice.rules.motifs.facets import Facets
from under_lattice.rules.motifs.lettering import Lettering
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice


def test_each_letter_is_a_part_as_large_as_the_font_says():
    parts = letters("H o", "Clear Sans", 0.0)
    assert len(parts) == 2
    high = parts[0][1]
    assert np.ptp(high[:, 1]) == pytest.approx(0.68, abs=0.03)  # the height of its capitals
    assert high[:, 1].max() == pytest.approx(0.0, abs=1e-9)  # on the base line, y down
    ring = areas(parts[1][0], parts[1][1][None])[0]  # an o less what is inside
    assert 0.02 < abs(ring) < abs(np.prod(np.ptp(parts[1][1], 0)))


def test_spacing_and_size_are_as_said():
    near, wide = letters("ll", "Clear Sans", 0.0), letters("ll", "Clear Sans", 0.5)
    step = [float(two[1][0, 0] - one[1][0, 0]) for one, two in (near, wide)]
    assert step[1] - step[0] == pytest.approx(0.5)
    ring = [last_stage(Lettering(text="tern", size=size)).body_ring for size in (20.0, 60.0)]
    assert np.ptp(ring[1], 0) == pytest.approx(3 * np.ptp(ring[0], 0))


@pytest.mark.parametrize(
    ("text", "font", "said"), [("漢t", "Clear Sans", "no glyph for “漢”"), ("t", "Lost Font", "not on this machine")]
)
def test_a_font_without_the_glyph_and_one_that_is_not_there_are_said(text, font, said):
    result = evaluated(Lettering(text=text, font=font), Lattice())
    assert result.last is None
    assert said in result.problems[0].sentence
    with pytest.raises(InputError, match=said):
        letters(text, font, 0.0)


def test_a_space_alone_shows_nothing_and_says_so():
    for font in SHIPPED:
        with pytest.raises(InputError, match="nothing to show"):
            letters(" ", font, 0.0)


@pytest.mark.parametrize(("sides", "rows", "table", "turn"), [(8, 2, 40.0, 0.0), (3, 1, 0.0, 20.0), (5, 3, 60.0, 11.0)])
def test_facets_make_up_the_rim(sides, rows, table, turn):
    rule = Facets(sides=sides, rows=rows, table=table, turn=turn, size=50.0)
    polygons, _ = tiles(evaluated(rule))
    whole = sides / 2 * 25**2 * np.sin(2 * np.pi / sides)
    assert sum(one.area for one in polygons) == pytest.approx(whole, rel=1e-9)
    assert len(polygons) == 1 + sides * rows
    assert np.hypot(*last_stage(rule).body_ring.T).max() == pytest.approx(25.0)


def test_facets_are_inked_by_the_way_they_face():
    result = evaluated(Facets(sides=6, rows=1), Lattice(), Ink(colours="facing", palette=("#000000", "#FFFFFF"), run="as a ramp"))
    coat = Evaluator().picture(result).coats[0]
    assert len(np.unique(coat.fill[:7], axis=0)) == 7
