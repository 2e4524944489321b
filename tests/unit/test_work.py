"""Edits, the cache of evaluation, files, facts, suggestions."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.chains import SHEET, evaluated, floor_alone, last_stage, work_of
from under_lattice.colour.colour import contrast
from under_lattice.core.errors import FileError, InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import from_text, to_text, write
from under_lattice.geometry.profiles import profile_of
from under_lattice.library import DEMOS, EMPTY, SINGLE, STARTS, blank, demo, start_layer
from under_lattice.measure.facts import measure
from under_lattice.rules import RULES
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.join_ends import JoinEnds
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.cut import Cut
from under_lattice.rules.shapes.join_faces import JoinFaces
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.pushed import first_crossing
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.unknown import UnknownRule
from under_lattice.vary.numbers import Varied
from under_lattice.work import edits
from under_lattice.work.grouping import add_layer, moved_to, remove_layer
from under_lattice.work.layers import Group, Veil
from under_lattice.work.model import Design, Grid, Sheet, Work
from under_lattice.work.sheets import presets, set_sheet, set_unit
from under_lattice.work.suggest import suggested

FLOOR = (Polygon(), Split(), Ink(), PushEdges(amount=2.0), Lattice())


def floor():
    return floor_alone().design


# ---------------------------------------------------------------- edits
def test_an_edit_shares_all_that_did_not_change():
    before = floor()
    after = edits.set_dial(before, "floor", "floor-lattice", "gap", 1.8)
    assert after.sheet is before.sheet
    assert all(a is b for a, b in zip(after.layers[0].rules[:-1], before.layers[0].rules[:-1], strict=True))
    assert before.layers[0].rules[-1].gap == 0.0


def test_a_refused_edit_says_what_is_allowed():
    with pytest.raises(InputError, match="from 3 to 120"):
        edits.set_dial(floor(), "floor", "floor-motif", "sides", 2)


def test_rules_are_added_moved_doubled_and_removed():
    design = edits.add_rule(floor(), "floor", Adjust(turn=5.0), "floor-split")
    rules = design.chain("floor").rules
    assert [r.handle for r in rules] == ["motif", "split", "adjust", "ink", "push-edges", "lattice"]
    design = edits.move_rule(design, "floor", rules[2].id, 5)
    assert design.chain("floor").rules[5].kind == "adjust"
    design = edits.duplicate_rule(design, "floor", "floor-lattice")
    assert [r.handle for r in design.chain("floor").rules].count("lattice-2") == 1
    assert len({r.id for r in design.chain("floor").rules}) == 7
    assert len(edits.remove_rule(design, "floor", "floor-split").chain("floor").rules) == 6


@pytest.mark.parametrize(
    "act", [lambda d: edits.remove_rule(d, "floor", "floor-motif"), lambda d: edits.move_rule(d, "floor", "floor-motif", 3)]
)
def test_the_motif_stays_first(act):
    with pytest.raises(InputError, match="motif"):
        act(floor())


def test_a_locked_layer_refuses_edits():
    design = edits.with_layer(floor(), "floor", lambda layer: edited(layer, locked=True))
    with pytest.raises(InputError, match="locked"):
        edits.set_dial(design, "floor", "floor-lattice", "gap", 1.0)


def test_copied_layers_remap_the_ids_inside():
    design = add_layer(floor(), floor().layers[0])
    copy = design.layers[0]
    push, lattice = copy.rules[3], copy.rules[4]
    assert push.amount.rule == lattice.id != "floor-lattice"
    assert copy.handle == "floor-2"
    assert evaluate(design)[copy.id].last.stage.n == 133


def test_layers_move_and_go_also_inside_groups():
    floor_layer = floor().layers[0]
    group = Group(id="g", handle="g", name="Group", layers=(floor_layer,))
    design = edited(floor(), layers=(group, Veil(id="v", handle="v", name="Veil")))
    changed = edits.set_dial(design, "floor", "floor-lattice", "gap", 2.0)
    assert changed.chain("floor").rules[-1].gap == 2.0
    assert remove_layer(design, "floor").chains() == ()
    assert moved_to(design, "v", 0).layers[0].id == "v"


def test_another_unit_keeps_the_real_size():
    design = set_unit(floor(), "cm")
    assert (design.sheet.width, design.sheet.unit) == (pytest.approx(32.4), "cm")
    assert design.layers[0].rules[0].size == pytest.approx(3.6)
    assert design.layers[0].rules[3].amount.end == pytest.approx(0.54)
    assert evaluate(design)["floor"].last.stage.n == 133


@pytest.mark.parametrize("preset", list(presets()))
def test_presets_are_sheets(preset):
    one = presets()[preset]
    design = set_sheet(floor(), unit=one.unit, width=one.width, height=one.height)
    assert (design.sheet.width, design.sheet.unit) == (one.width, one.unit)


# ---------------------------------------------------------------- cache
def test_changing_a_rule_recomputes_from_there_on():
    evaluator, design = Evaluator(), floor()
    evaluator.chain(design.layers[0], design.sheet)
    assert len(evaluator.computed) == 4  # ink makes no stage
    evaluator.chain(design.layers[0], design.sheet)
    assert evaluator.computed == []
    turned = edits.set_dial(design, "floor", "floor-lattice", "turn", 3.0)
    evaluator.chain(turned.layers[0], turned.sheet)
    assert evaluator.computed == ["floor-lattice"]
    pushed = edits.set_dial(turned, "floor", "floor-push-edges", "profile", "bow")
    evaluator.chain(pushed.layers[0], pushed.sheet)
    assert evaluator.computed == ["floor-push-edges", "floor-lattice"]


def test_ink_alone_draws_no_shape_again():
    evaluator, design = Evaluator(), floor()
    first = evaluator.picture(evaluator.chain(design.layers[0], design.sheet))
    other = edits.set_dial(design, "floor", "floor-ink", "palette", ("#000000", "#FFFFFF"))
    second = evaluator.picture(evaluator.chain(other.layers[0], other.sheet))
    assert evaluator.computed == []
    assert second.marks is first.marks


def test_a_rule_that_is_off_is_passed_over_and_what_varies_by_it_rests():
    design = edits.with_rule(floor(), "floor", "floor-lattice", lambda rule: edited(rule, on=False))
    result = evaluate(design)["floor"]
    assert result.last.stage.n == 1
    assert "which is off" in result.problems[0].sentence


# ---------------------------------------------------------------- files
@pytest.mark.parametrize("name", list(DEMOS))
def test_every_demo_goes_out_and_comes_back_the_same(name, tmp_path):
    work = demo(name)
    path = tmp_path / "work.lattice"
    write(work, path)
    assert open_any(path).work == work
    assert to_text(open_any(path).work) == path.read_text(encoding="utf-8")
    assert all(result.problems == () for result in evaluate(work.design).values())


@pytest.mark.parametrize("name", [name for name in STARTS if name not in (SINGLE, EMPTY)])
@pytest.mark.parametrize("size", [Sheet(width=8.0, height=10.0, unit="in"), Sheet(width=1080, height=1080, unit="px"), Sheet()])
def test_every_blank_start_is_a_pattern_true_to_its_sheet(name, size):
    work = blank(name, size)
    (result,) = evaluate(work.design).values()
    assert result.problems == ()
    assert not measure(result, Evaluator(), work.design.sheet).warnings  # nothing is warned of that it made itself
    assert work.design.layers[0].name != "start"
    ink = next(rule for rule in work.design.layers[0].rules if rule.kind == "ink")
    first = ink.stroke_colour if ink.colours == "none" else ink.palette[0]
    assert contrast(first, work.design.sheet.background) >= 3.0
    assert 10 < result.last.stage.n < 400


@pytest.mark.parametrize("ground", ["#FFFFFF", "#101820", "#8A8A8A", "#C2694C"])
@pytest.mark.parametrize("name", [name for name in STARTS if name != EMPTY])
def test_a_new_layer_stands_out_from_any_ground(name, ground):
    layer = start_layer(name, Sheet(background=ground))
    ink = next(rule for rule in layer.rules if rule.kind == "ink")
    assert contrast(ink.stroke_colour if ink.colours == "none" else ink.palette[0], ground) >= 3.0


def test_an_empty_sheet_has_no_layers_and_goes_out_and_comes_back():
    work = blank(EMPTY)
    assert work.design.layers == ()
    assert from_text(to_text(work)) == work


@pytest.mark.parametrize("name", ["squares", "hexagons", "triangles", "bricks", "half-drop", "two-vectors", "stars", "symmetry"])
def test_starts_that_cover_fill_the_sheet(name):
    work = blank(name, Sheet(width=8.0, height=10.0, unit="in"))
    (result,) = evaluate(work.design).values()
    left, top, right, bottom = measure(result, Evaluator(), work.design.sheet).bounds
    assert right - left > 4.0  # at least half the sheet
    assert bottom - top > 4.0


def test_unknown_rules_are_kept_untouched():
    data = json.loads(to_text(floor_alone()))
    later = {"kind": "whirlpool", "id": "w", "handle": "whirlpool", "depth": {"deep": [1, 2]}, "on": True}
    data["design"]["layers"][0]["rules"].append(later)
    work = from_text(json.dumps(data))
    assert isinstance(work.design.layers[0].rules[-1], UnknownRule)
    assert json.loads(to_text(work))["design"]["layers"][0]["rules"][-1].items() >= later.items()
    assert evaluate(work.design)["floor"].last.stage.n == 133


def broken(change):
    data = json.loads(to_text(floor_alone()))
    change(data)
    return json.dumps(data)


def edited_rule(at, **changes):
    return broken(lambda d: d["design"]["layers"][0]["rules"][at].update(changes))


BROKEN = (
    ("", "not a work"),
    ("[]", "format"),
    ('{"format": "other"}', "format"),
    ("{" * 100_000, "not a work"),
    ('{"a": NaN}', "not a work"),
    (broken(lambda d: d.pop("version")), "version"),
    (broken(lambda d: d.update(version=99)), "newer"),
    (broken(lambda d: d["design"]["sheet"].update(width=-1)), "sheet"),
    (broken(lambda d: d.pop("design")), "design"),
    (broken(lambda d: d["design"]["layers"][0]["rules"].pop(0)), "begins with a motif"),
    (edited_rule(0, sides=2), "from 3 to 120"),
    (edited_rule(4, shape="round"), "shape"),
    (broken(lambda d: d["design"]["layers"].append(d["design"]["layers"][0])), "same id"),
    (broken(lambda d: d["design"]["layers"][0].update(rules="none")), "rules"),
)


@pytest.mark.parametrize(("text", "told"), BROKEN)
def test_broken_files_say_what_is_wrong(text, told):
    with pytest.raises(FileError, match=told):
        from_text(text, "broken.lattice")


def test_a_failed_save_leaves_the_old_file(tmp_path, monkeypatch):
    path = tmp_path / "work.lattice"
    write(floor_alone(), path)
    before = path.read_bytes()

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(FileError, match="No space left"):
        write(demo("air-grille"), path)
    assert path.read_bytes() == before
    assert list(tmp_path.iterdir()) == [path]


@pytest.mark.parametrize("content", [b"\xff\xfe\x00", b"PK\x03\x04"])
def test_other_files_are_refused(content, tmp_path):
    path = tmp_path / "other.lattice"
    path.write_bytes(content)
    with pytest.raises(FileError, match=r"other\.lattice"):
        open_any(path)
    with pytest.raises(FileError, match=r"gone\.lattice cannot be read"):
        open_any(tmp_path / "gone.lattice")


# ---------------------------------------------------------------- facts
def facts(*rules, sheet=SHEET):
    return measure(evaluated(*rules, sheet=sheet), Evaluator(), sheet)


def test_facts_of_the_floor():
    found = facts(*FLOOR)
    assert (found.copies, found.distinct) == (115, 1)
    assert found.pitch == pytest.approx(36.0)
    assert found.gap_words == "gap 0.00 mm, touching"
    assert found.cell["copies"] == 2
    assert found.warnings == ()


def test_overlap_brings_its_cure():
    found = facts(Polygon(), Lattice(spacing="free", pitch=30.0))
    assert found.gap == pytest.approx(-6.0)
    (warn,) = found.warnings
    assert warn.sentence == "overlap 6.00 mm"
    assert (warn.cure.dial, warn.cure.value) == ("spacing", "touching")


def test_doubles_and_self_crossing_are_told():
    doubled = facts(
        Polygon(), Lattice(extent="by number", columns=2, rows=1), Lattice(extent="by number", columns=2, rows=1, spacing="free")
    )
    assert any("exactly on another" in warn.sentence for warn in doubled.warnings)
    crossed = facts(Polygon(), PushEdges(amount=25.0), Lattice())
    cure = next(warn.cure for warn in crossed.warnings if "cross themselves" in warn.sentence)
    assert not facts(Polygon(), PushEdges(amount=cure.value), Lattice()).warnings


@pytest.mark.parametrize("size", [24.0, 0.06, 2000.0])
@pytest.mark.parametrize("profile", ["bow", "S", "peak"])
@pytest.mark.parametrize("split", [(), (Split(),)], ids=["whole", "rhombs"])
def test_a_self_crossing_is_told_at_its_limit_and_the_cure_lies_inside(size, profile, split):
    tile = Polygon(size=size)
    limit = first_crossing(last_stage(tile, *split).shape, profile_of(profile))

    def told(amount):
        found = facts(tile, *split, PushEdges(amount=amount, profile=profile)).warnings
        return [warn for warn in found if "cross themselves" in warn.sentence]

    (warn,) = told(limit)
    assert limit * 0.98 < warn.cure.value < limit
    assert not told(warn.cure.value)
    assert not told(limit * 0.999)
    (back,) = told(-limit)
    assert back.cure.value == pytest.approx(-warn.cure.value)


def test_parallelogram_cells_name_the_nearest_rectangle():
    cell = facts(Polygon(sides=4, stands="on a flat", size=20.0), Lattice(form="two vectors", row_angle=60.0)).cell
    assert cell["kind"] == "parallelogram"
    assert cell["near_error"] < 5


def test_nothing_on_the_sheet_is_told():
    found = facts(Polygon(), Lattice(extent="whole copies inside"), sheet=Sheet(width=10, height=10))
    assert found.copies == 0
    assert "no copy" in found.warnings[0].sentence


# ---------------------------------------------------------------- suggestions
@pytest.mark.parametrize(
    "kind", [rule for rule in RULES if rule.family not in ("motif",) and rule.model_fields["kind"].default != "layer"]
)
@pytest.mark.parametrize("sides", [3, 4, 5, 6])
def test_suggested_rules_can_act(kind, sides):
    above = {
        JoinFaces: (Polygon(sides=sides), Split(into="triangles")),
        JoinEnds: (Polygon(sides=sides), Cut(parts=sides, keep="")),
    }
    rules = above.get(kind, (Polygon(sides=sides),))  # what joins has faces or ends to join
    rule = suggested(kind, work_of(*rules).design.layers[0], SHEET)
    assert last_stage(*rules, rule).n >= 1


def test_a_second_repeat_is_by_number():
    chain = work_of(Polygon(), Lattice()).design.layers[0]
    assert suggested(Lattice, chain, SHEET).extent == "by number"


def test_kept_versions_go_with_the_work():
    work = Work(design=floor(), kept=({"name": "Plain", "design": floor()},))
    assert from_text(to_text(work)).kept[0].name == "Plain"


def test_ids_are_not_shared_by_numbers_of_other_layers():
    amount = Varied(rule="floor-lattice", channel="column", start=0, end=1)
    assert np.isfinite(last_stage(Polygon(size=20.0), PushEdges(amount=amount), Lattice()).xform).all()


@pytest.mark.parametrize(
    ("grid", "point", "wanted"),
    [
        (Grid(spacing=10.0), (13.0, 17.0), (10.0, 20.0)),
        (Grid(spacing=10.0, down=4.0), (13.0, 17.0), (10.0, 16.0)),
        (Grid(spacing=10.0, divisions=4), (13.0, 17.0), (12.5, 17.5)),
        (Grid(spacing=10.0, form="triangles"), (6.0, 8.0), (5.0, 8.660254)),
        (Grid(spacing=10.0, form="triangles"), (9.0, 1.0), (10.0, 0.0)),
        (Grid(spacing=10.0, form="triangles", divisions=2), (2.0, 4.0), (2.5, 4.330127)),
    ],
)
def test_the_nearest_crossing_of_the_construction_grid(grid, point, wanted):
    assert grid.nearest(np.array(point)) == pytest.approx(np.array(wanted), abs=1e-6)


@given(x=st.floats(-200, 200), y=st.floats(-200, 200), spacing=st.floats(1, 50), parts=st.integers(1, 8))
def test_no_crossing_of_a_triangular_grid_is_nearer(x, y, spacing, parts):
    grid, side = Grid(spacing=spacing, divisions=parts, form="triangles"), spacing / parts
    found = np.hypot(*(grid.nearest(np.array([x, y])) - (x, y)))
    assert found <= side / np.sqrt(3) + 1e-9  # the middle of a triangle is the farthest


def test_another_unit_keeps_the_construction_grid():
    sheet = Sheet(grid=Grid(spacing=10.0, down=5.0))
    grid = set_unit(Design(sheet=sheet), "cm").sheet.grid
    assert (grid.spacing, grid.down) == pytest.approx((1.0, 0.5))
