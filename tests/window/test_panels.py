"""A panel is a file and a line: it is given the desk, listens to it, and knows no other panel."""

import ast
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtWidgets import QLabel

from tests.chains import floor_alone
from under_lattice.rules import Adjust
from under_lattice.rules.findings import Warn
from under_lattice.ui import panels
from under_lattice.ui.window import studio
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import add_rule, set_dial, with_layer


class Names(QLabel):
    """Made up for this test alone: the chosen layer, its open rule, and how many copies there are."""

    def __init__(self, desk):
        super().__init__()
        self.desk = desk
        desk.document.changed.connect(self.refresh)
        desk.looked.layer_changed.connect(self.refresh)
        desk.looked.rule_changed.connect(lambda _: self.refresh())
        desk.found.changed.connect(self.refresh)
        self.refresh()

    def refresh(self):
        chosen, rule = self.desk.looked.chosen, self.desk.looked.rule
        self.setText(f"{chosen.name if chosen else 'none'}, {rule or 'none'}, {self.desk.found.facts.copies}")


def test_a_new_panel_hears_of_layers_rules_and_facts(window, qtbot, monkeypatch):
    monkeypatch.setattr(studio, "PANELS", (*studio.PANELS, Names))
    window.show_work(floor_alone())
    window.show()
    panel = window.findChild(Names)
    assert panel.isVisible()
    qtbot.waitUntil(lambda: panel.text().startswith("Floor, floor-lattice,") and not panel.text().endswith(" 0"), timeout=20_000)
    window.studio.chain.open("")
    assert ", none, " in panel.text()
    window.studio.edit("Name", lambda design: with_layer(design, "floor", lambda one: one.model_copy(update={"name": "Hall"})))
    assert panel.text().startswith("Hall")


def test_no_panel_imports_another_unless_it_is_made_of_it():
    folder = Path(panels.__file__).parent
    made_of = {
        "chain_list": {"card", "add_slot"},
        "card": {"form"},
        "start_page": {"start_tiles", "strip", "book_files"},
        "start_tiles": {"card"},
        "layer_tree": {"chips", "several_bar"},
    }
    for path in folder.glob("*.py"):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        froms = [node for node in ast.walk(tree) if isinstance(node, ast.ImportFrom) and ".ui.panels." in (node.module or "")]
        named = {node.module.split(".")[-1] for node in froms}
        assert named <= made_of.get(path.stem, set()), path.name


def test_another_time_of_the_loop_is_painted_when_it_is_looked_at(hands):
    swing = Varied(rule="floor-lattice", channel="loop", start=0.0, end=90.0)
    hands.studio.edit("Swing", lambda design: set_dial(design, "floor", "floor-push-edges", "amount", 0.0))
    hands.studio.edit("Swing", lambda design: add_rule(design, "floor", Adjust(id="swing", turn=swing), "floor-lattice"))
    hands.settle()
    shown = []
    for time in (0.0, 0.5, 0.0):
        hands.studio.looked.time = time
        hands.settle()
        hands.bot.wait(50)
        shown.append(hands.studio.sheet.picture.copy())
    assert shown[0] == shown[2]
    assert shown[0] != shown[1]
    assert not hands.document.design.layers[0].rules[0].locked


@pytest.mark.parametrize("width", [900, 1100, 1280, 2400])
def test_a_long_sentence_at_the_foot_is_cut_at_its_end_and_whole_where_there_is_room(hands, width):
    hands.window.resize(width, 700)
    line = hands.studio.facts_line
    hands.settle()
    warned = "Lattice changes nothing: there is one copy only & no more of them than that, wherever one looks on the whole sheet"
    line.show_facts(replace(hands.studio.facts, warnings=(Warn(warned),)), hands.document.design.sheet, "")
    told = "Exported straps.svg, 5.83 MB; as pictures, the sheet 2400 px long, stand in it: weave"
    line.tell(told)
    hands.bot.wait(30)
    for part, whole in ((line.told, told), (line.warning, warned)):
        said = part.text().replace("&&", "&")
        assert part.width() >= part.sizeHint().width()
        assert said == whole or (said.endswith("…") and whole.startswith(said[:-1]))
        assert len(said) > 12
        assert width < 2400 or said == whole
    line.show_facts(replace(hands.studio.facts, warnings=()), hands.document.design.sheet, "")
    line.tell("kept")
    assert line.told.text() == "Kept"


@pytest.mark.parametrize("width", [640, 900, 1280])
def test_words_at_the_foot_give_way_whole_while_something_is_drawn(hands, width):
    hands.window.resize(width, 700)
    hands.bot.wait(30)
    hands.settle()  # no picture comes in between
    line = hands.studio.facts_line
    line.show_zoom("53 %")
    for act in (lambda: line.show_working("drawing 41%"), lambda: line.show_time("12 ms"), lambda: line.show_working("lattice 3%")):
        act()

        def none_is_cut():
            seen = [one for one in line.findChildren(QLabel) if one.isVisible()]
            assert seen
            assert not [one.text() for one in seen if one.width() < one.sizeHint().width()]

        hands.bot.waitUntil(none_is_cut, timeout=5000)
    assert line.stop.isVisible()
