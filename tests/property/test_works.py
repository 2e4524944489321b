"""Any work goes out and comes back the same; any text is read or refused with a sentence; any edits can be undone."""

import json

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chains import floor_alone, tiles
from tests.whole_works import rules_of
from under_lattice.core.errors import FileError, InputError, LatticeError
from under_lattice.core.units import short, typed
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.files.recipe import from_png, from_svg
from under_lattice.files.storage import from_text, to_text
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.measure.facts import measure
from under_lattice.rules import RULES
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.split import Split
from under_lattice.ui.state.document import Document
from under_lattice.work import edits
from under_lattice.work.model import Design, Sheet, Work
from under_lattice.work.sheets import set_unit


@st.composite
def works(draw):
    middle = [kind for kind in RULES if kind.family != "motif" and kind.model_fields["kind"].default != "layer"]
    chosen = draw(st.lists(st.sampled_from(middle), max_size=4))
    rules = [draw(rules_of(Polygon)), *(draw(rules_of(kind)) for kind in chosen)]
    sheet = Sheet(width=draw(st.floats(20, 90)), height=draw(st.floats(20, 90)), unit=draw(st.sampled_from(["mm", "px", "in"])))
    return Work(design=Design(name=draw(st.text(max_size=12)), sheet=sheet, layers=(chain("Floor", *rules),)))


@given(work=works())
@settings(max_examples=120)
def test_any_work_goes_out_and_comes_back_the_same(work):
    text = to_text(work)
    assert from_text(text) == work
    assert to_text(from_text(text)) == text


@given(work=works())
@settings(max_examples=80)
def test_any_work_is_evaluated_and_measured_or_says_why_not(work):
    evaluator = Evaluator()
    (result,) = evaluate(work.design, evaluator).values()
    facts = measure(result, evaluator, work.design.sheet)
    assert facts.copies >= 0
    assert all(problem.sentence for problem in result.problems)


@given(work=works(), unit=st.sampled_from(["mm", "cm", "in", "pt", "px"]))
@settings(max_examples=40)
def test_another_unit_and_back_is_the_same_size(work, unit):
    there = set_unit(work.design, unit)
    back = set_unit(there, work.design.sheet.unit)
    assert abs(back.sheet.width - work.design.sheet.width) < 1e-9 * work.design.sheet.width
    assert len(back.layers[0].rules) == len(work.design.layers[0].rules)


@given(text=st.text(max_size=40))
@settings(max_examples=80)
def test_any_typed_text_is_a_number_or_refused_with_a_sentence(text):
    for unit in ("mm", "%", "°", ""):
        try:
            value = typed(text, unit, now=50.0)
        except InputError as error:
            assert len(error.message) > 8
        else:
            assert value == value


@given(value=st.floats(-1e6, 1e6), digits=st.integers(0, 9))
def test_short_numbers_read_back_close(value, digits):
    assert abs(float(short(value, digits)) - value) <= 0.51 * 10.0**-digits


@given(data=st.binary(max_size=300), cut=st.integers(0, 4000), text=st.text(max_size=60))
@settings(max_examples=150)
def test_spoilt_files_are_refused_never_half_read(data, cut, text):
    whole = to_text(demo("air-grille"))
    for read, spoilt in ((from_text, text), (from_text, whole[: cut % len(whole)]), (from_svg, data), (from_png, data)):
        try:
            read(spoilt)
        except FileError as error:
            assert str(error)


@given(cut=st.integers(0, 3000), number=st.sampled_from(["1e999", "null", "-1", '"x"', "[]", "{}", "1e12"]))
@settings(max_examples=100)
def test_a_number_swapped_in_a_file_is_read_or_refused(cut, number):
    data = json.dumps(json.loads(to_text(demo("dyed-towels"))))
    digits = [k for k, sign in enumerate(data) if sign.isdigit()]
    at = digits[cut % len(digits)]
    try:
        from_text(data[:at] + number + data[at + 1 :])
    except LatticeError as error:
        assert str(error)


STEPS = st.lists(
    st.sampled_from(
        [
            ("floor-lattice", "gap", 2.0),
            ("floor-motif", "sides", 4),
            ("floor-ink", "colours", "row"),
            ("floor-lattice", "turn", 9.0),
        ]
    ),
    max_size=8,
)


@given(steps=STEPS, back=st.integers(0, 8))
@settings(max_examples=60)
def test_undo_and_redo_walk_through_all_designs(steps, back):
    document = Document(floor_alone())
    seen = [document.design]
    for rule, dial, value in steps:
        document.apply(dial, edits.set_dial(document.design, "floor", rule, dial, value))
        if document.design is not seen[-1]:
            seen.append(document.design)
    for _ in range(back):
        document.undo()
    assert document.design is seen[max(0, len(seen) - 1 - back)]
    for _ in range(back):
        document.redo()
    assert document.design is seen[-1]


@given(sides=st.sampled_from([4, 6, 8, 10]), size=st.floats(5, 50))
@settings(max_examples=20)
def test_split_faces_add_up_to_the_whole(sides, size):
    def total(*rules):
        shapes, _ = tiles(Evaluator().chain(chain("Floor", Polygon(sides=sides, size=size), *rules), Sheet()))
        return sum(shape.area for shape in shapes)

    whole = total()
    for into in ("rhombs", "triangles", "chords"):
        assert abs(total(Split(into=into)) - whole) < 1e-9 * whole
    assert total(Split(), Lattice(extent="by number", columns=2, rows=2)) > 3.99 * whole
