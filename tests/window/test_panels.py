"""A panel is a file and a line: it is given the desk, listens to it, and knows no other panel."""

import ast
from pathlib import Path

from PySide6.QtWidgets import QLabel

from tests.chains import floor_alone
from under_lattice.ui import panels
from under_lattice.ui.window import studio
from under_lattice.work.edits import with_layer


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
    made_of = {"chain_list": {"card"}, "card": {"form"}, "start_page": {"start_tiles", "strip"}, "start_tiles": {"card"}}
    for path in folder.glob("*.py"):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        froms = [node for node in ast.walk(tree) if isinstance(node, ast.ImportFrom) and ".ui.panels." in (node.module or "")]
        named = {node.module.split(".")[-1] for node in froms}
        assert named <= made_of.get(path.stem, set()), path.name
