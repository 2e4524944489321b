"""Lettering as outlines, and facets."""

import struct
from importlib.resources import files

import numpy as np
import pytest
from bidi import get_display  # type: ignore[import-untyped]

from tests.chains import evaluated, last_stage, tiles
from under_lattice.core.errors import InputError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry import lettering
from under_lattice.geometry.lettering import SHIPPED, letters
from under_lattice.geometry.outline import areas
from under_lattice.geometry.text_runs import runs_of
from under_lattice.rules.ground import PLAIN
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs import lettering as lettering_motif
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


@pytest.mark.parametrize("text", ["tern", "Tern Harbour Bathhouse, women’s side.", "W.", "i"])
@pytest.mark.parametrize("spacing", [-12.0, 0.0, 7.5, 90.0])
def test_the_bead_of_the_spacing_is_dragged_without_laying_the_line_a_thousand_times(text, spacing, monkeypatch):
    begun, wanted = (Lettering(text=text, spacing=one, turn=20.0) for one in (0.0, spacing))
    stage = last_stage(begun)
    to = next(one.at for one in wanted.handles(stage, stage, PLAIN, "mm").handles if one.name == "spacing")
    laid = []
    monkeypatch.setattr(lettering_motif, "letters", lambda *given: (laid.append(given), letters(*given))[1])
    found = begun.dragged(Drag("spacing", to, free=True, near=0.0), stage, stage, PLAIN)
    assert found["spacing"] == pytest.approx(spacing if len(text) > 1 else 0.0, abs=0.1)
    assert len(laid) < 10


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


MIXED = ("tern", "abc אבג 123 def", "سلام tern", "אב (גד) ה", "אבג سلام", "12 אב 34", "a אב, b", "tern 12", "אב tern גד 5 end")


@pytest.mark.parametrize("text", MIXED)
def test_letters_stand_in_the_order_another_library_shows(text):
    runs = runs_of(text)
    seen = "".join(run.text[::-1] if run.backwards else run.text for run in runs)
    assert seen == get_display(text)
    assert sorted("".join(run.text for run in runs)) == sorted(text)


def test_blanks_are_spaces_and_a_tab_is_four():
    wide, tab = letters("t    t", "Clear Sans", 0.0), letters("t\tt", "Clear Sans", 0.0)
    assert len(tab) == 2
    assert all(np.array_equal(a[1], b[1]) for a, b in zip(wide, tab, strict=True))
    for blank in ("\u00a0", "\u2003", "\u3000"):
        assert len(letters(f"t{blank}t", "Clear Sans", 0.0)) == 2
    assert len(letters("t\u200d\ufe0f\u200ft", "Clear Sans", 0.0)) == 2  # joiner, selector and mark of direction show nothing


def test_emoji_are_refused_in_words():
    with pytest.raises(InputError, match="emoji are pictures; import a drawing of it"):
        letters("🐟", "Clear Sans", 0.0)
    with pytest.raises(InputError, match="no glyph for “🐟”, “漢”"):
        letters("🐟漢", "Clear Sans", 0.0)


def collection(path):
    """A font collection of the two shipped fonts (OpenType, `ttcf`)."""
    data = [(files("under_lattice") / "fonts" / name).read_bytes() for name in SHIPPED.values()]
    head = 12 + 4 * len(data)
    begins, out = [], b""
    for one in data:
        begin = head + len(out)
        begins.append(begin)
        tables = struct.unpack(">H", one[4:6])[0]
        moved = bytearray(one)
        for k in range(tables):
            at = 12 + 16 * k + 8
            moved[at : at + 4] = struct.pack(">I", struct.unpack(">I", one[at : at + 4])[0] + begin)
        out += bytes(moved) + b"\0" * (-len(one) % 4)
    path.write_bytes(b"ttcf" + struct.pack(">HHI", 1, 0, len(data)) + b"".join(struct.pack(">I", one) for one in begins) + out)


def test_the_fonts_of_a_collection_are_offered_and_set(tmp_path, monkeypatch):
    folder = tmp_path / "fonts"
    folder.mkdir()
    collection(folder / "both.ttc")
    (folder / "broken.ttc").write_bytes(b"ttcf\0\1\0\0\0\0\0\x09rubbish")
    monkeypatch.setenv("XDG_DATA_DIRS", str(tmp_path))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "none"))
    monkeypatch.setattr(lettering, "SHIPPED", {})
    lettering.system_fonts.cache_clear()
    lettering._font.cache_clear()
    letters.cache_clear()
    try:
        fonts = lettering.system_fonts()
        assert [place for _, place in fonts.values()] == [0, 1]
        widths = [np.ptp(np.concatenate([points[:, 0] for _, points in letters("tern", name, 0.0)])) for name in fonts]
        assert widths[1] > widths[0]  # the bold one
    finally:
        for kept in (lettering.system_fonts, lettering._font, letters):
            kept.cache_clear()


def test_joined_letters_have_their_joined_forms():
    if "DejaVu Sans" not in lettering.system_fonts():
        pytest.skip("no font with such letters is on this machine")
    joined, apart = letters("سلام", "DejaVu Sans", 0.0), [letters(one, "DejaVu Sans", 0.0) for one in "سلام"]
    assert len(joined) < sum(map(len, apart))  # lam and alef are one
    left = [points[:, 0].min() for _, points in joined]
    assert left == sorted(left)
