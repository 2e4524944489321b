"""Names are one line of plain text: at the door of a work, in file names, and on a terminal."""

import json
import unicodedata

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tests.chains import floor_alone
from under_lattice.command_line.main import main
from under_lattice.core.plain import for_terminal, one_line
from under_lattice.declare.frozen import edited
from under_lattice.files.storage import from_text, stem_of, to_text, write
from under_lattice.rules.motifs.lettering import Lettering

ANY = st.text(st.characters(exclude_categories=()), max_size=60)
HOSTILE = "Tide \x1b[31mred\x07\u202e\ud800 <img src='/etc/hostname'>\r\nend\x00"


@given(ANY)
def test_a_name_is_one_line_that_can_be_written_and_is_itself_again(text):
    name = one_line(text)
    assert one_line(name) == name
    assert name.encode("utf-8").decode() == name
    assert not [part for part in name if unicodedata.category(part) in ("Cc", "Cs", "Zl", "Zp")]
    assert len(name) <= len(text)


@pytest.mark.parametrize("name", ["Möwen & Fische", "海の家", "مد وجزر", "👩\u200d🎨 tiles", "a\u00a0b", "  two  blanks "])
def test_names_of_any_script_stay_as_they_are(name):
    assert one_line(name) == name
    assert for_terminal(name) == name


@given(ANY)
def test_a_terminal_is_given_no_order(text):
    shown = for_terminal(text)
    assert not [part for part in shown if part != "\n" and unicodedata.category(part) in ("Cc", "Cs")]
    assert shown.encode("utf-8").decode() == shown
    assert text.count("\n") == shown.count("\n")


@given(ANY)
@example("../../etc/passwd")
@example("\U00020000" * 90)
def test_a_suggested_file_name_is_no_path_and_not_too_long(text):
    stem = stem_of(text)
    assert "/" not in stem
    assert "\0" not in stem
    assert stem.strip(".")
    assert 0 < len(f"{stem}-strip.lattice".encode()) <= 255


def test_names_are_cleaned_wherever_they_come_in():
    work = floor_alone()
    data = json.loads(to_text(work))
    design, layer = data["design"], data["design"]["layers"][0]
    design["dials"] = [{"id": "d", "handle": "d", "name": HOSTILE, "measure": "count", "value": 3}]
    for part in (design, layer, layer["rules"][0]):
        part["name"] = HOSTILE
    data["kept"] = [{"name": HOSTILE, "design": design}]
    read = from_text(json.dumps(data))
    chain = read.design.layers[0]
    names = {read.design.name, chain.name, chain.rules[0].name, read.design.dials[0].name, read.kept[0].name}
    assert names == {"Tide [31mred� <img src='/etc/hostname'> end"}
    assert edited(read.design, name=HOSTILE).name in names
    assert from_text(to_text(read)) == read
    assert Lettering(text="a\x00b\u202ec").text == "abc"


@pytest.mark.parametrize("order", ["facts", "facts --json", "nothing", "as drawn"])
def test_what_a_name_holds_orders_no_terminal(order, tmp_path, capsys):
    path = tmp_path / "a\x1b[2Jb\nc.lattice"
    work = floor_alone()
    write(work.model_copy(update={"design": work.design.model_copy(update={"name": "\x1b[31mred\ud800"})}), path)
    match order:
        case "nothing":
            assert main(["facts", f"{path}x"]) == 1
        case "as drawn":
            with pytest.raises(SystemExit):
                main(["render", str(path), "-o", "x.svg", "--time", "\x1b[2J"])
        case _:
            assert main(order.replace(" ", f" {path} ", 1).split(" ") if "--" in order else ["facts", str(path)]) == 0
    said = capsys.readouterr()
    assert said.out + said.err
    assert "\x1b" not in said.out + said.err
    assert order.startswith("facts") or said.err.count("\n") == len(said.err.strip().splitlines())


def test_a_terminal_without_its_characters_is_told_all_the_same(tmp_path, capsys, monkeypatch):
    import io
    import sys

    out = io.TextIOWrapper(io.BytesIO(), "ascii")
    monkeypatch.setattr(sys, "stdout", out)
    path = tmp_path / "w.lattice"
    work = floor_alone()
    write(edited(work, design=edited(work.design, name="海")), path)
    assert main(["facts", str(path)]) == 0
    out.flush()
    assert out.buffer.getvalue().startswith(b"\\u6d77, 324")
