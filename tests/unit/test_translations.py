"""Lattices of translations: shortest vectors, what two have in common, upright rectangles, whole px."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from under_lattice.geometry.translations import common, nearest_miss, oblong, reduced, whole_pixels

HEXAGONS = np.array([(1.0, 0.0), (0.5, np.sqrt(3) / 2)])
SQUARES = np.eye(2)
whole = st.integers(-4, 4)
length = st.floats(3.0, 60.0)


def turned(degrees):
    t = np.radians(degrees)
    return np.array([(np.cos(t), np.sin(t)), (-np.sin(t), np.cos(t))])


def same_lattice(one, other):
    """Whether each holds the other."""
    return all(np.allclose((found := a @ np.linalg.inv(b)), np.rint(found), atol=1e-6) for a, b in ((one, other), (other, one)))


@given(length, length, st.floats(0.3, 2.8), st.floats(0, 6), st.lists(whole, min_size=4, max_size=4))
def test_any_basis_of_a_lattice_is_brought_to_its_shortest_vectors(a, b, between, turn, mixed):
    own = np.array([(a, 0.0), (b * np.cos(between), b * np.sin(between))]) @ turned(np.degrees(turn))
    mix = np.array([(1, mixed[0]), (0, 1)]) @ np.array([(1, 0), (mixed[1], 1)])
    found = reduced(mix @ own)
    assert same_lattice(found, own)
    every = [np.hypot(*(i * own[0] + j * own[1])) for i in range(-9, 10) for j in range(-9, 10) if i or j]
    assert np.hypot(*found.T).min() == pytest.approx(min(every), rel=1e-6)


@settings(max_examples=25)
@given(length, st.integers(1, 7), st.integers(1, 7), st.sampled_from([SQUARES, HEXAGONS, np.array([(1.0, 0.25), (0.0, 2.0)])]))
def test_what_two_sizes_of_a_lattice_have_in_common_is_their_least_common_multiple(pitch, k, m, form):
    found = common(k * pitch * form, m * pitch * form)
    assert same_lattice(found, np.lcm(k, m) * pitch * form)


def test_lattices_have_in_common_what_they_share():
    assert np.allclose(common(HEXAGONS, HEXAGONS * (1, np.sqrt(3))), [(1, 0)])
    assert np.allclose(common(HEXAGONS, SQUARES), [(1, 0)])  # along one side only
    assert len(common(SQUARES, SQUARES * np.sqrt(2))) == 0
    assert same_lattice(common(SQUARES, SQUARES @ np.array([(0.6, 0.8), (-0.8, 0.6)])), np.array([(2.0, 1.0), (1.0, -2.0)]))
    assert np.allclose(common(SQUARES * 3, np.array([(2.0, 0.0)])), [(6, 0)])
    assert np.allclose(common(np.array([(4.0, 0.0)]), np.array([(-6.0, 0.0)])), [(12, 0)])
    assert len(common(np.array([(4.0, 0.0)]), np.array([(0.0, 6.0)]))) == 0
    assert len(common(SQUARES, np.zeros((0, 2)))) == 0


def test_how_two_pitches_miss_each_other():
    there, here = nearest_miss(SQUARES * 10, SQUARES * 10.1)
    assert np.hypot(*(there - here)) / np.hypot(*there) == pytest.approx(0.01)


@pytest.mark.parametrize(
    ("basis", "width", "height"),
    [
        (SQUARES * 7, 7, 7),
        (HEXAGONS * 24, 24, 24 * np.sqrt(3)),
        (HEXAGONS[:, ::-1] * 24, 24 * np.sqrt(3), 24),
        (SQUARES @ turned(45) * 10, 10 * np.sqrt(2), 10 * np.sqrt(2)),
        (np.array([(30.0, 15.0), (0.0, 30.0)]), 60, 30),  # half-drop
        (np.array([(30.0, 0.0), (10.0, 20.0)]), 30, 60),  # bricks a third aside
    ],
)
def test_the_upright_rectangle_of_a_lattice(basis, width, height):
    found = oblong(reduced(basis))
    assert (found.width, found.height, found.miss) == (pytest.approx(width), pytest.approx(height), 0.0)


@given(length, st.floats(1.0, 44.0))
def test_where_no_rectangle_is_small_the_nearest_to_upright_is_of_the_lattice_and_says_by_how_much(pitch, degrees):
    basis = reduced(SQUARES @ turned(degrees) * pitch)
    found = oblong(basis)
    for side in (found.across, found.down):
        shares = side @ np.linalg.inv(basis)
        assert np.allclose(shares, np.rint(shares), atol=1e-6)
    assert found.miss == pytest.approx(max(abs(found.across[1]), abs(found.down[0])))
    assert found.miss < 0.12 * min(found.width, found.height)


@pytest.mark.parametrize(
    ("width", "height", "most", "want"),
    [
        (1, np.sqrt(3), 120, (97, 168)),
        (72.0, 36.0, 600, (600, 300)),
        (1, 1, 1, (1, 1)),
        (1000, 1, 9, (9, 1)),
        (1, 1000, 1, (1, 1000)),
    ],
)
def test_whole_px_in_the_best_proportions(width, height, most, want):
    found = whole_pixels(width, height, most)
    assert (found.width, found.height) == want


def test_hexagons_are_out_of_proportion_by_as_much_as_is_known():
    assert 100 * whole_pixels(1, np.sqrt(3), 120).error == pytest.approx(0.0053, abs=5e-5)


@given(length, length, st.integers(1, 400))
def test_no_other_px_are_nearer(width, height, most):
    assume(height / width < 50)
    found = whole_pixels(width, height, most)
    across = np.arange(max(1, np.ceil(0.8 * most)), most + 1)
    best = np.abs(np.maximum(1, np.rint(across * height / width)) / across * width / height - 1).min()
    assert found.error == pytest.approx(best, abs=1e-11)
    assert 0.8 * most <= found.width <= most
