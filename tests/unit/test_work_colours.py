"""All colours of a work: found wherever they stand, changed everywhere, never a coordinate; and how much of the sheet each has."""

import numpy as np
import pytest

from tests.chains import evaluated, work_of
from under_lattice.colour.colour import to_oklch
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import DEMOS, demo
from under_lattice.render.coverage import coverage, shares_in_scene, shares_of_colours
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.scene.tree import make_scene
from under_lattice.work.colours import by_lightness, colours_of_rules, in_order, moved, recoloured, uses_of
from under_lattice.work.model import Sheet

SHEET = Sheet(width=100, height=80, background="#F4EFE4")
RED, BLUE, GREEN = "#D04030", "#3050C0", "#208040"


def geometry(design):
    """All outlines and where they lie, as bytes."""
    evaluator = Evaluator()
    out = b""
    for result in evaluator.design(design).values():
        marks = evaluator.marks(result.last.stage, result.known)
        out += b"".join(
            np.ascontiguousarray(part).tobytes() for part in (marks.xform, marks.variant, *(f.points for f in marks.families))
        )
    return out


@pytest.mark.parametrize("name", DEMOS)
def test_no_coordinate_of_a_demo_work_changes_and_all_its_colours_do(name):
    design = demo(name).design
    colours = tuple(uses_of(design))
    change = {one: f"#{k:02X}10{255 - k:02X}" for k, one in enumerate(colours)}
    new = recoloured(design, change)
    assert geometry(new) == geometry(design)
    assert set(uses_of(new)) == set(change.values())
    back = recoloured(new, {to: one for one, to in change.items()})
    assert set(uses_of(back)) == set(colours)


def test_one_colour_is_changed_wherever_it_stands():
    one = Ink(palette=(RED, BLUE, RED), stroke="one colour", stroke_colour=RED)
    two = Ink(inside="straight ramp", ramp=f"0 {RED}; 100 {GREEN} 40%")
    design = work_of(Ellipse(), one, Lattice(), two, sheet=SHEET.model_copy(update={"background": RED})).design
    assert len(uses_of(design)[RED]) == 5
    new = recoloured(design, {RED: "#123456"})
    first, second = (rule for _, rule in new.every_rule() if rule.kind == "ink")
    assert first.palette == ("#123456", BLUE, "#123456")
    assert first.stroke_colour == new.sheet.background == "#123456"
    assert second.ramp == f"0 #123456; 100 {GREEN} 40%"
    layer = recoloured(design, {RED: "#123456"}, "floor")
    assert layer.sheet.background == RED
    assert recoloured(design, {"#000001": RED}) == design


def test_what_has_no_effect_is_not_listed():
    design = work_of(Ellipse(), Ink(palette=(RED,), stroke_colour=GREEN), sheet=SHEET).design
    assert set(uses_of(design)) == {RED, SHEET.background}


def test_palettes_are_given_by_lightness_or_in_order():
    colours, palette = ("#FFFFFF", "#000000", "#888888"), ("#100000", "#F0F0C0", "#A05050")
    assert by_lightness(colours, palette) == {"#FFFFFF": "#F0F0C0", "#000000": "#100000", "#888888": "#A05050"}
    assert in_order((*colours, "#010101"), palette)["#010101"] == "#100000"
    many = by_lightness(tuple(f"#{k:02X}{k:02X}{k:02X}" for k in range(0, 250, 10)), palette)
    lights = [to_oklch(one)[0] for one in many.values()]
    assert lights == sorted(lights)


def test_hue_strength_and_lightness_move_together():
    hue = to_oklch(RED)[2]
    assert to_oklch(moved(hue=90.0)(RED))[2] == pytest.approx((hue + 90) % 360, abs=1.5)
    assert to_oklch(moved(strength=0.0)(RED))[1] == pytest.approx(0.0, abs=2e-3)
    assert to_oklch(moved(lightness=10.0)(RED))[0] == pytest.approx(to_oklch(RED)[0] + 0.1, abs=5e-3)


# -- shares --------------------------------------------------------------------------------------
def shares(*rules):
    result = evaluated(*rules, sheet=SHEET)
    picture = Evaluator().picture(result)
    colours = colours_of_rules(rule for rule in rules if rule.kind == "ink")
    return shares_of_colours(picture, colours, SHEET.width, SHEET.height), coverage(picture, SHEET.width, SHEET.height)


def test_shares_are_those_of_the_areas_and_add_up_to_what_is_covered():
    squares = Polygon(sides=4, measure="side", size=10.0, stands="on a flat")
    floor = Lattice(form="squares", extent="by number", columns=10, rows=8)
    found, covered = shares(squares, Ink(colours="parity", palette=(RED, BLUE)), floor)
    assert found == pytest.approx({RED: 50.0, BLUE: 50.0}, abs=0.3)
    assert covered == pytest.approx(100.0, abs=0.1)
    some, covered = shares(Ellipse(width=20.0), Ink(colours="one colour", palette=(GREEN,)))
    assert some[GREEN] == pytest.approx(100 * np.pi * 100 / 8000, abs=0.05) == covered


def test_what_is_hidden_counts_for_none_and_ramps_and_clear_colours_neither():
    row = Progression(count=2, distance=10.0)
    found, _ = shares(Rectangle(width=20.0, height=40.0), Ink(colours="step", palette=(RED, BLUE)), row)
    assert found == pytest.approx({RED: 100 * 400 / 8000, BLUE: 100 * 800 / 8000}, abs=0.3)
    half, _ = shares(Rectangle(width=20.0, height=40.0), Ink(colours="one colour", palette=(RED,), fill_opacity=50.0))
    assert half[RED] == pytest.approx(5.0, abs=0.1)
    ramp, _ = shares(Rectangle(width=20.0, height=40.0), Ink(inside="straight ramp", palette=(RED, BLUE)))
    assert ramp == {RED: 0.0, BLUE: 0.0}


def test_five_colours_are_told_apart_and_the_ground_is_seen_where_it_is_bare():
    palette = (RED, BLUE, GREEN, "#F0C060", "#101010")
    bars = Rectangle(width=10.0, height=80.0)
    row = Lattice(form="squares", extent="by number", columns=5, rows=1, spacing="free", pitch=20.0)
    design = work_of(bars, Ink(colours="column", palette=palette), row, sheet=SHEET).design
    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    found = shares_in_scene(scene, tuple(uses_of(design)))
    assert found == pytest.approx(dict.fromkeys(palette, 10.0) | {SHEET.background: 50.0}, abs=0.3)
