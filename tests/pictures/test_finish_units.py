"""Finishes above repeats, of parts of a motif, and of layers that are moved: what is finished together."""

import numpy as np
import pytest

from tests.pictures.compare import by_resvg, ours, scene_of
from tests.pictures.test_finish import RED, SHEET, work
from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.library.layers import chain
from under_lattice.output import svg
from under_lattice.output.svg import Svg, write_svg
from under_lattice.render.finish import closing, plates, units
from under_lattice.render.paint import paint
from under_lattice.rules import (
    Adjust,
    Blur,
    Combine,
    Contour,
    Ellipse,
    Halftone,
    Ink,
    Lattice,
    LayerEnd,
    LayerMotif,
    LeaveOut,
    Progression,
    Rectangle,
    Relief,
    Ring,
    Rosette,
    Shadow,
    Tone,
    Warp,
)
from under_lattice.scene.tree import View, make_scene, whole_page
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Group

CLEAR = edited(SHEET, background="")
APART = Lattice(form="squares", spacing="free", pitch=24.0, row_pitch=24.0, extent="by number", columns=3, rows=3)
NEAR = edited(APART, pitch=9.0, rows=1, columns=2)


def picture(*layers, wide=400, sheet=CLEAR):
    return ours(scene_of(work(*layers, sheet=sheet)), wide)


def test_a_relief_above_and_below_a_repeat_differ_along_the_inner_arc_alone():
    """Two overlapping discs: below it is one body; nothing differs outside their union."""
    relief = Relief(size=2.0, profile="round")
    above, below = (picture(chain("A", Ellipse(width=16.0), RED, *rules)) for rules in ((relief, NEAR), (NEAR, relief)))
    plain = picture(chain("A", Ellipse(width=16.0), RED, NEAR))
    away = np.abs(above - below).max(-1)
    assert away[plain[..., 3] == 0].max() < 4
    rows, columns = np.nonzero(away > 60)
    x, y = (columns + 0.5) / 4 - 50, (rows + 0.5) / 4 - 40
    inner = (np.hypot(x - 4.5, y) < 8.1) & (np.hypot(x - 4.5, y) > 5.5)  # the arc of the upper disc, within its face
    inner |= (np.hypot(x + 4.5, y) < 8.1) & (np.hypot(x + 4.5, y) > 5.5) & (np.hypot(x - 4.5, y) < 8.1)
    assert inner.mean() > 0.97
    assert len(rows) > 100


@pytest.mark.parametrize("finish", [Blur(size=1.0), Contour(width=1.0, count=2, gap=1.0), Shadow(distance=2.0), Relief(), Tone()])
@pytest.mark.parametrize(
    "below",
    [(APART,), (Rosette(count=7, radius=30.0),), (Ink(palette=("#205080",)), APART, LeaveOut(which="by chance", share=30.0))],
)
def test_copies_that_stand_apart_look_the_same_finished_one_by_one_and_together(finish, below):
    """The light stays where it is, whatever way copies are turned; rules that are no repeats do not part what is finished."""
    one = picture(chain("A", Rectangle(width=9.0, height=6.0), RED, finish, *below))
    all_ = picture(chain("A", Rectangle(width=9.0, height=6.0), RED, *below, finish))
    assert all_[..., 3].max() > 250
    assert np.abs(one - all_).mean() < 1.2


def test_light_turns_with_the_copies_where_that_is_asked():
    """Four bars round a middle: the outer long face of each is as bright as that of the others, or not."""
    for keeps, spread in (("turns", 6), ("stays", 60)):
        bars = chain("A", Rectangle(width=20.0, height=8.0), RED, Relief(size=2.0, keeps=keeps), Rosette(count=4, radius=20.0))
        pixels = picture(bars, wide=800)
        middle = [
            pixels[320 + int(8 * (20 + 3) * dy), 400 + int(8 * (20 + 3) * dx), :3].mean()
            for dx, dy in ((0, -1), (1, 0), (0, 1), (-1, 0))
        ]
        assert (np.ptp(middle) < spread) == (keeps == "turns")


def test_a_finish_is_as_large_as_the_copy_it_is_on():
    """Copies that shrink by half each have half as soft an edge."""
    row = Progression(count=3, direction=0.0, across=50.0, along=50.0, distance=28.0)
    pixels = picture(chain("A", Rectangle(width=24.0, height=24.0, place_x=-30.0), RED, Blur(size=2.0), row), wide=1600)
    line = pixels[640, :, 3]
    soft = [int(((line[at : at + wide] > 40) & (line[at : at + wide] < 215)).sum()) for at, wide in _runs(line > 2)]
    assert len(soft) >= 3
    assert soft[1] / soft[0] == pytest.approx(0.5, abs=0.1)
    assert soft[2] / soft[1] == pytest.approx(0.5, abs=0.15)


def _runs(of):
    edges = np.flatnonzero(np.diff(np.pad(of.astype(int), 1)))
    return [(begin, end - begin) for begin, end in zip(edges[::2], edges[1::2], strict=True)]


@pytest.mark.parametrize("motif", ["group", "linked layer"])
def test_one_part_of_a_repeated_unit_is_blurred_and_the_other_is_not(motif):
    """A ring that is soft about a disc that is sharp, repeated as one."""
    ring, disc = chain("Ring", Ring(width=18.0), RED, Blur(size=0.6)), chain("Disc", Ellipse(width=6.0), RED)
    group = Group(id="g", handle="g", name="G", layers=(disc, ring), source_only=True)
    link = LayerMotif(layer="g")
    layers = [chain("All", link, edited(APART, pitch=26.0, row_pitch=26.0))]
    if motif == "linked layer":
        layers = [chain("All", LayerMotif(layer="again"), APART), edited(chain("Again", link), source_only=True)]
        layers[0] = edited(layers[0], rules=(*layers[0].rules[:1], edited(APART, pitch=26.0, row_pitch=26.0, id="l", handle="l")))
    pixels = picture(*layers, group, wide=800)
    single = picture(edited(group, source_only=False), wide=800)
    here, there = pixels[208:432, 288:512], single[208:432, 288:512]  # the copy in the middle
    assert single[..., 3].max() == 255
    assert np.abs(here - there).mean() < 1.0
    assert np.abs(pixels[:224, 288:512] - there).mean() < 1.0  # and one beside it, 26 further up
    plain = edited(ring, rules=ring.rules[:-1])
    sharp = picture(edited(group, layers=(disc, plain), source_only=False), wide=800)[208:432, 288:512]
    assert np.abs(here - sharp).max() > 100


def test_finishes_of_finishes_and_of_what_is_turned_as_a_whole():
    """Soft dots, six to a ring that throws one shadow, all in relief; a layer moved and turned takes its finishes along."""
    rules = (Ellipse(width=5.0), RED, Blur(size=0.4), Rosette(count=6, radius=4.0), Shadow(distance=1.5), APART)
    pixels = picture(chain("A", *rules, Halftone(pitch=1.0, ink="")))
    assert 20 < pixels[..., 3].mean() < 200
    still = picture(chain("A", *rules))
    moved = picture(edited(chain("A", *rules), end=LayerEnd(id="e", place_x=10.0, place_y=-5.0)))
    assert np.abs(moved[:-20, 40:] - still[20:, :-40]).mean() < 0.7
    streaks = chain("A", Rectangle(width=30.0, height=20.0), RED, Relief(size=4.0, keeps="turns"))
    upright, turned = (picture(edited(streaks, end=LayerEnd(id="e", place_turn=angle))) for angle in (0.0, 90.0))
    assert np.abs(np.rot90(upright[:, 40:360], -1) - turned[:, 40:360]).mean() < 1.5
    stays = edited(streaks, rules=(*streaks.rules[:-1], Relief(id="r", handle="r", size=4.0)))
    assert np.abs(picture(edited(stays, end=LayerEnd(id="e", place_turn=90.0))) - turned).mean() > 2


def test_a_plate_is_painted_once_for_each_that_differs(monkeypatch):
    """1,200 copies in three colours are three plates; turned by chance still three, with a light that stays many more."""
    painted = []
    whole = closing.finished
    monkeypatch.setattr(closing, "finished", lambda *given: painted.append(1) or whole(*given))
    many = edited(APART, pitch=2.5, row_pitch=2.5, columns=40, rows=30)
    ink = Ink(colours="chance", palette=("#C02020", "#E0A030", "#2060A0"))
    for rules, wanted in (
        ((ink, Blur(size=0.2), many), 3),
        ((RED, Relief(size=0.3), Rosette(count=8, radius=20.0)), 8),
        ((RED, Relief(size=0.3, keeps="turns"), Rosette(count=8, radius=20.0)), 1),
        ((RED, Blur(size=0.2), edited(many, rows=0 + 1), Adjust(turn=0.0)), 1),
    ):
        painted.clear()
        picture(chain("A", Rectangle(width=2.0, height=1.0), *rules))
        assert len(painted) == wanted


def test_what_has_no_size_shows_nothing_and_what_is_cut_off_is_said():
    """Copies of size 0 are left out; below a rule that makes new shapes of all a finish above says where it belongs."""
    gone = chain("A", Ellipse(width=5.0), RED, Blur(size=0.4), Progression(count=12, distance=9.0, across=1.0, along=1.0))
    assert picture(gone)[..., 3].max() > 100
    nothing = chain("A", Ellipse(width=5.0), RED, Blur(size=0.4), APART, LeaveOut(which="by chance", share=100.0))
    assert picture(nothing)[..., 3].max() == 0
    blur = Blur(id="b", handle="b")
    cut = chain("A", Ellipse(width=12.0), RED, blur, NEAR, Combine(how="union"))
    (problem,) = evaluate(work(cut))["a"].problems
    assert "put it below that" in problem.sentence
    assert picture(cut)[..., 3].max() == 255
    bent = chain("A", Ellipse(width=12.0), RED, blur, NEAR, Warp())
    assert not evaluate(work(bent))["a"].problems


def test_in_svg_such_a_layer_is_one_picture(monkeypatch):
    monkeypatch.setattr(svg, "PICTURE_PX", 900)
    design = work(chain("A", Ellipse(width=12.0), RED, Relief(size=2.0), APART))
    scene = scene_of(design)
    text = write_svg(scene, design.sheet, Svg(recipe=False)).decode()
    assert text.count("<image") == 1
    assert np.abs(ours(scene, 300) - by_resvg(scene, design.sheet, 300)[:240]).mean() < 1.0


def test_a_finish_that_is_changed_is_changed_where_its_layer_is_a_motif():
    """With one evaluator for all, as in the window."""
    source = edited(chain("Dot", Ellipse(width=12.0), RED, Blur(size=0.5)), source_only=True)
    user = chain("All", LayerMotif(layer="dot"), APART)
    keeper, seen = Evaluator(), []
    for size in (0.5, 3.0, 0.5):
        blur = edited(source.rules[-1], size=size)
        design = work(user, edited(source, rules=(*source.rules[:-1], blur)), sheet=CLEAR)
        scene = make_scene(design, keeper.design(design), keeper)
        seen.append(paint(scene, whole_page(scene, 200)).astype(float))
    assert np.abs(seen[0] - seen[1]).mean() > 5
    assert (seen[0] == seen[2]).all()


@pytest.mark.parametrize("finish", [Relief(size=0.6), Shadow(distance=0.5, soft=0.2), Blur(size=0.3), Contour(width=0.3)])
def test_many_copies_that_all_differ_are_finished_side_by_side(finish, monkeypatch):
    """Each as it would be by itself, though hundreds are painted on one sheet; those out of sight are not painted."""
    grid = edited(APART, pitch=4.0, row_pitch=4.0, columns=22, rows=18)
    turn = Varied(rule="a-lattice", channel="distance", start=0.0, end=300.0)
    layer = chain("A", Rectangle(width=2.4, height=1.4), Ink(colours="chance"), finish, grid, Adjust(scope="each", turn=turn))
    together = picture(layer, wide=800)
    monkeypatch.setattr(plates, "ALONE", 10_000)
    assert np.abs(together - picture(layer, wide=800)).mean() < 0.3
    monkeypatch.undo()
    scene = scene_of(work(layer, sheet=CLEAR))
    part = paint(scene, View(100, 80, 8.0, 0.0, 0.0)).astype(float)
    assert np.abs(part - together[320:400, 400:500]).mean() < 0.3


def test_too_many_copies_that_differ_for_a_finish_that_depends_on_its_place_are_finished_together(monkeypatch):
    monkeypatch.setattr(units, "PLATES_MOST", 5)
    notes = []
    turn = Varied(rule="a-lattice", channel="step", start=0.0, end=300.0)
    rules = (Rectangle(width=9.0, height=4.0), RED, Halftone(pitch=1.0), APART, Adjust(scope="each", turn=turn))
    scene = scene_of(work(chain("A", *rules), sheet=CLEAR))
    out = paint(scene, whole_page(scene, 200), Progress(note=notes.append))
    assert any("too many" in note for note in notes)
    assert out[..., 3].max() > 200


@pytest.mark.parametrize(
    "below", [(), (Shadow(distance=9.0, soft=0.3),), (Shadow(distance=9.0, soft=0.3), Rosette(count=3, radius=12.0))]
)
def test_what_lies_out_of_sight_is_there_where_a_later_finish_carries_it_in(below):
    """Shadows of soft dots, of all together and of each of three blocks, in a view beside them."""
    grid = edited(APART, pitch=8.0, row_pitch=8.0)
    scene = scene_of(work(chain("A", Ellipse(width=5.0), RED, Blur(size=0.3), grid, *below), sheet=CLEAR))
    whole = ours(scene, 800)
    assert whole[..., 3].max() > 200
    for left, top in ((490, 360), (430, 300), (390, 440)):
        part = paint(scene, View(60, 40, 8.0, 400.0 - left, 320.0 - top)).astype(float)
        assert np.abs(part - whole[top : top + 40, left : left + 60]).max() < 12
