"""Leaves of the pattern book as files, recipes on other motifs, the shelf, and the orders that explore."""

import json

import pytest
from PIL import Image

from tests.chains import work_of
from under_lattice.command_line.main import main
from under_lattice.core.errors import FileError, InputError
from under_lattice.evaluate.evaluator import evaluate
from under_lattice.files.book import BookLeaf, brought, from_leaf_text, leaves, put_back, put_in, read_leaf, take_out, to_leaf_text
from under_lattice.files.migrations import VERSION
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import from_text, to_data, to_text
from under_lattice.library import DEMOS, demo
from under_lattice.library.layers import chain
from under_lattice.library.palettes import PALETTES
from under_lattice.output import BY_KEY
from under_lattice.rules import Ellipse, Ink, Lattice, Polygon, PushEdges, Rosette, Split
from under_lattice.rules.base import EVERY
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import lock_layer, set_dial
from under_lattice.work.locks import lock_all_but, lock_rule, unlock_all
from under_lattice.work.model import Design, Kept, StripOrder, Work
from under_lattice.work.recipes import cell_of, motif_of, palette_of, recipe_of, with_motif, with_palette, with_recipe
from under_lattice.work.sheets import set_unit
from under_lattice.work.shelf import free_name, moved, put_on, renamed, taken_off, with_those_since


def leaf(kind="recipe", name="One", **more):
    work = None if kind == "palette" else demo("dyed-towels")
    return BookLeaf(kind=kind, name=name, work=work, colours=("#AA0000",) if kind == "palette" else (), **more)


def width_of(path):
    with Image.open(path) as image:
        return image.width


# -- the book ------------------------------------------------------------------------------------
@pytest.mark.parametrize("kind", ["work", "recipe", "motif", "palette", "cell"])
def test_a_leaf_comes_back_from_its_file_as_it_went(kind, tmp_path):
    one = leaf(kind, words="cloth, sails")
    path = put_in(one, tmp_path)
    assert read_leaf(path) == one
    assert to_leaf_text(read_leaf(path)) == path.read_text(encoding="utf-8")
    assert put_in(one, tmp_path) != path  # nothing is written over


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "it is not JSON"),
        ("[]", "lacks “format”"),
        (json.dumps({"format": "under-lattice-leaf", "version": 9}), "of version 9"),
        (json.dumps({"format": "under-lattice-leaf", "version": 1, "kind": "rug"}), "a leaf is one of: work, recipe"),
        (json.dumps({"format": "under-lattice-leaf", "version": 1, "kind": "palette", "name": "x"}), "without colours"),
        (
            json.dumps({"format": "under-lattice-leaf", "version": 1, "kind": "palette", "name": "x", "colours": ["reddish"]}),
            "not a colour",
        ),
        (json.dumps({"format": "under-lattice-leaf", "version": 1, "kind": "work", "name": "x", "work": {}}), "not a work"),
        (json.dumps({"format": "under-lattice-leaf", "version": 1, "kind": "palette", "name": "", "colours": ["#000000"]}), "name"),
    ],
)
def test_a_broken_leaf_is_refused_in_words_and_passed_over(text, said, tmp_path):
    with pytest.raises(FileError, match=said):
        from_leaf_text(text, "x.leaf")
    (tmp_path / "x.leaf").write_text(text)
    put_in(leaf(name="Whole"), tmp_path)
    found, problems = leaves(tmp_path)
    assert [one.leaf.name for one in found] == ["Whole"]
    assert len(problems) == 1
    assert "x.leaf" in problems[0]


def test_leaves_are_found_by_words_brought_in_from_folders_taken_out_and_put_back(tmp_path):
    assert leaf(words="warm sails").found_by("SAILS recipe")
    assert not leaf(words="warm").found_by("sails")
    other = tmp_path / "other"
    path = put_in(leaf(name="A"), other)
    put_in(leaf("palette", name="B"), other)
    (other / "c.leaf").write_text("")
    (other / "notes.txt").write_text("not a leaf")
    book = tmp_path / "book"
    count, problems = brought([other, path], book)
    assert (count, len(problems)) == (3, 1)
    assert [one.leaf.name for one in leaves(book)[0]] == ["A", "A", "B"]
    first = leaves(book)[0][0].path
    take_out(first)
    assert len(leaves(book)[0]) == 2
    put_back(first)
    assert len(leaves(book)[0]) == 3
    with pytest.raises(FileError, match="cannot be taken out"):
        take_out(book / "gone.leaf")
    assert leaves(tmp_path / "nowhere") == ((), ())


# -- recipes -------------------------------------------------------------------------------------
RUN = Varied(rule="floor-lattice", channel="column", start=0.0, end=6.0)
CUBES = (
    Polygon(size=36.0),
    Split(),
    Ink(colours="part"),
    PushEdges(amount=RUN),
    Lattice(gap=1.0, pivot=Anchor(spot="motif corner 2")),
)


def test_a_recipe_keeps_the_other_motif_and_is_in_proportion_to_it():
    design = work_of(*CUBES).design
    other = work_of(Polygon(size=18.0), Rosette(count=6)).design
    made = with_recipe(other, "floor", recipe_of(design, "floor")).layers[0]
    assert made.rules[0] == other.layers[0].rules[0]
    assert made.rules[3].amount.end == pytest.approx(3.0)
    assert made.rules[4].gap == pytest.approx(0.5)
    assert made.rules[3].amount.rule == made.rules[4].id != "floor-lattice"
    assert made.rules[4].pivot.spot == "motif corner 2"  # found anew on this motif
    assert not evaluate(work_of(*CUBES).design)["floor"].problems


def test_a_recipe_in_inches_is_the_same_on_a_sheet_in_millimetres():
    inches = set_unit(work_of(*CUBES).design, "in")
    made = with_recipe(work_of(Polygon(size=36.0)).design, "floor", recipe_of(inches, "floor")).layers[0]
    assert made.rules[4].gap == pytest.approx(1.0)
    assert made.rules[3].amount.end == pytest.approx(6.0)


@pytest.mark.parametrize("name", DEMOS)
def test_recipes_of_every_demo_work_stand_on_a_disc_and_stay_whole(name):
    for own in demo(name).design.chains():
        recipe = recipe_of(demo(name).design, own.id)
        made = with_recipe(work_of(Ellipse(width=20.0)).design, "floor", recipe)
        again = from_text(to_text(Work(design=made))).design
        assert again.layers == made.layers
        assert [rule.kind for rule in made.layers[0].rules[1:]] == [rule.kind for rule in own.rules[1:]]


def test_motifs_and_palettes_go_over_and_a_locked_layer_is_refused():
    design = work_of(*CUBES).design
    other = work_of(Ellipse(width=20.0), Ink(), Lattice()).design
    made = with_motif(other, "floor", motif_of(design, "floor"))
    assert made.layers[0].rules[0].kind == "polygon"
    assert made.layers[0].rules[0].id == other.layers[0].rules[0].id
    assert [rule.kind for rule in motif_of(lock_layer(design, "floor", True), "floor").layers[0].rules] == ["polygon", "ink"]
    assert palette_of(design, "floor") == CUBES[2].palette
    assert with_palette(other, "floor", PALETTES["Kelp"]).layers[0].rules[1].palette == PALETTES["Kelp"]
    with pytest.raises(InputError, match="no rule of this layer has a palette"):
        palette_of(work_of(Polygon()).design, "floor")
    with pytest.raises(InputError, match="locked"):
        with_recipe(lock_layer(other, "floor", True), "floor", recipe_of(design, "floor"))


def test_a_cell_is_a_sheet_of_one_repeat_or_refused():
    design = work_of(Polygon(sides=4, size=20.0, stands="on a flat"), Lattice(form="squares")).design
    cell = cell_of(design, {"kind": "rectangle", "width": 20.0, "height": 20.0, "copies": 1, "turn": 0.0})
    assert (cell.sheet.width, cell.sheet.height) == (20.0, 20.0)
    for wrong in (None, {"kind": "parallelogram"}, {"kind": "rectangle", "width": 1.0, "height": 1.0, "turn": 30.0}):
        with pytest.raises(InputError, match="no upright rectangle"):
            cell_of(design, wrong)


# -- shelf and locks -----------------------------------------------------------------------------
def test_the_shelf_names_orders_and_gives_back():
    design = demo().design
    shelf = put_on(put_on((), design), design, "A name", "2026-01-01T10:00")
    assert [one.name for one in shelf] == ["Version 1", "A name"]
    assert free_name("A name", shelf) == "A name 2"
    assert [one.name for one in renamed(shelf, shelf[0].id, " A   name ")] == ["A name 2", "A name"]
    assert renamed(shelf, shelf[0].id, "  ") is shelf
    assert [one.name for one in moved(shelf, shelf[0].id, 9)] == ["A name", "Version 1"]
    less = taken_off(shelf, shelf[0].id)
    since = put_on(less, design, "Since")
    assert [one.name for one in with_those_since(since, shelf, less)] == ["Version 1", "A name", "Since"]
    with pytest.raises(InputError, match="is gone"):
        taken_off(less, shelf[0].id)
    full = tuple(Kept(name=str(k), design=design) for k in range(200))
    with pytest.raises(InputError, match="at most 200"):
        put_on(full, design)


def test_locks_of_all_but_one_dial_or_rule():
    design = work_of(*CUBES).design
    but = lock_all_but(design, "floor-lattice", "gap").layers[0]
    assert all(rule.locked == (EVERY,) for rule in (*but.rules[:4], but.end))
    assert not but.rules[4].holds("gap")
    assert but.rules[4].holds("pitch")
    assert unlock_all(lock_all_but(design, "floor-lattice")) == design
    assert unlock_all(design) is design
    assert lock_rule(design, "floor", "floor-split", True).layers[0].rules[1].holds("anything")


def test_kept_and_strip_are_in_the_file_and_files_of_before_gain_ids():
    work = Work(design=demo().design, kept=(Kept(name="Then", at="2026-11-01T09:30", design=demo("rope-mat").design),),
                strip=StripOrder(across="floor.lattice.gap=0..2/3"))  # fmt: skip
    assert from_text(to_text(work)) == work
    data = to_data(work)
    assert data["version"] == VERSION == 4
    old = data | {"version": 2, "kept": [{"name": "a", "design": data["design"]}, {"name": "b", "design": data["design"]}]}
    old.pop("strip")
    read = from_text(json.dumps(old))
    assert [one.id for one in read.kept] == ["kept-1", "kept-2"]
    assert read.strip is None
    assert read.kept[0].design == work.design
    twice = data | {"kept": [{"id": "x", "name": "a", "design": data["design"]}] * 2}
    with pytest.raises(FileError, match="two kept versions have the same id"):
        from_text(json.dumps(twice))


def test_lattices_of_before_stay_where_they_were():
    rule = {"kind": "lattice", "id": "l", "handle": "lattice", "extent": "by number", "columns": 4, "rows": 4}
    data = to_data(Work(design=Design(layers=(chain("a", Polygon(), Lattice()),))))
    layer = data["design"]["layers"][0]
    for written, grown in (({}, "middle copy"), ({"grow": "top left"}, "top left"), ({"extent": "covers the sheet"}, "middle")):
        rules = [layer["rules"][0] | {"id": "m"}, rule | written]
        inner = {key: value for key, value in layer.items() if key != "end"} | {"id": "b", "handle": "b", "rules": rules}
        group = {"kind": "group", "id": "g", "handle": "g", "name": "G", "layers": [inner]}
        read = from_text(json.dumps(data | {"version": 3, "design": data["design"] | {"layers": [layer, group]}}))
        assert read.design.chain("b").rules[1].grow == grown
    now = Work(design=Design(layers=(chain("a", Polygon(), Lattice(extent="by number", columns=4)),)))
    assert from_text(to_text(now)).design.chains()[0].rules[1].grow == "middle"


@pytest.mark.parametrize("name", DEMOS)
def test_every_demo_work_has_versions_that_look_different(name):
    from under_lattice.explore.looks import SAME, Looks

    work, looks = demo(name), Looks()
    now = looks.look(work.design)
    seen = [looks.look(one.design) for one in work.kept]
    assert 2 <= len(seen) <= 3
    assert all(look.away(now) > 2 * SAME and not look.problems for look in seen)


# -- orders --------------------------------------------------------------------------------------
def test_the_siblings_order_writes_live_pictures_the_same_each_time(tmp_path, capsys):
    order = ["siblings", "demo:plunge-pool", "--seed", "3", "--reach", "40", "--width", "120", "--scope", "tiles.lattice"]
    assert main([*order, "-o", str(tmp_path / "a")]) == 0
    said = capsys.readouterr().out
    assert main([*order, "-o", str(tmp_path / "b")]) == 0
    names = sorted(path.name for path in (tmp_path / "a").iterdir())
    assert names == [*(f"{k}.png" for k in range(1, 9)), "siblings.json"]
    assert all((tmp_path / "a" / name).read_bytes() == (tmp_path / "b" / name).read_bytes() for name in names)
    listed = json.loads((tmp_path / "a" / "siblings.json").read_text())
    assert listed[0]["changes"][0] in said
    one = open_any(tmp_path / "a" / "5.png").work.design
    assert one.layers[0].rules[:-1] == demo("plunge-pool").design.layers[0].rules[:-1]
    assert width_of(tmp_path / "a" / "1.png") == 120


@pytest.mark.parametrize(
    ("order", "said"),
    [
        (["siblings", "demo:plunge-pool", "--reach", "400"], "0 to 100"),
        (["siblings", "demo:plunge-pool", "--count", "0"], "1 to 24"),
        (["siblings", "demo:plunge-pool", "--scope", "tiles.gone"], "there is no rule"),
        (["strip", "demo:plunge-pool", "--across", "tiles.gone.gap=1..2/3"], "there is no rule of tiles"),
        (["strip", "demo:plunge-pool", "--across", "tiles.lattice.gap=1..2/3", "--width", "3"], "16 to 4000"),
    ],
)
def test_orders_that_cannot_be_done_say_what_is_allowed(order, said, tmp_path, capsys):
    assert main([*order, "-o", str(tmp_path / "out.png")]) == 1
    assert said in capsys.readouterr().err
    assert not (tmp_path / "out.png").exists()


def test_a_strip_of_no_known_ending_is_refused(tmp_path, capsys):
    assert main(["strip", "demo:plunge-pool", "--across", "tiles.lattice.gap=1..2/3", "-o", str(tmp_path / "out.gif")]) == 1
    assert "png, svg, pdf" in capsys.readouterr().err


def test_a_tied_number_that_is_stepped_is_freed(tmp_path):
    out = tmp_path / "p.png"
    assert main(["strip", "demo:plunge-pool", "--across", "tiles.lattice.pitch=40..60/3", "--width", "40", "-o", str(out)]) == 0
    assert width_of(out) > 120
    assert set_dial(demo("plunge-pool").design, "tiles", "tiles-lattice", "gap", 1.0)


def test_ways_out_of_demo_works_are_of_options_there_are():
    kept = {name: demo(name).export for name in DEMOS if demo(name).export is not None}
    assert {choice.ending for choice in kept.values()} == {"png", "hpgl", "cutter", "3mf", "pdf"}
    for name, choice in kept.items():
        options = BY_KEY[choice.ending].first(demo(name).design.sheet).with_options(choice.options)
        assert {key: getattr(options, key) for key in choice.options} == choice.options
