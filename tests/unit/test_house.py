"""How the house is built: who may name a kind of rule or of layer, no circles of imports, sizes of files and functions."""

import ast
from pathlib import Path

import pytest

from under_lattice.rules import RULES

SOURCE = Path(__file__).parents[2] / "src"
FILES = sorted((SOURCE / "under_lattice").rglob("*.py"))
MODULES = {".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__"): path for path in FILES}
TREES = {name: ast.parse(path.read_text(encoding="utf-8")) for name, path in MODULES.items()}
KINDS_OF_RULES = {kind.__name__ for kind in RULES}
FAMILIES = {"MotifRule", "ShapeRule", "CopyRule", "Repeat"}
KINDS_OF_LAYERS = {"Chain", "Group", "Veil"}
NAMES_OF_PEOPLE = {"name", "commission", "title", "handle", "sentence", "path"}
OWN_LAYERS = ("under_lattice.work", "under_lattice.evaluate", "under_lattice.scene")


def room(module):
    return ".".join(module.split(".")[:2])


def imported(module):
    """Modules of ours a module imports, wherever in it, for types alone too."""
    found = set()
    for node in ast.walk(TREES[module]):
        if isinstance(node, ast.ImportFrom) and node.module:
            found |= {one if (one := f"{node.module}.{alias.name}") in MODULES else node.module for alias in node.names}
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return found & MODULES.keys()


def test_only_the_rules_and_the_library_name_a_kind_of_rule():
    """The library is made of whole works; all others ask a rule, or the list of kinds."""
    named = {
        (module, alias.name)
        for module, tree in TREES.items()
        if room(module) not in ("under_lattice.rules", "under_lattice.library")
        for node in ast.walk(tree)
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("under_lattice.rules")
        for alias in node.names
        if alias.name in KINDS_OF_RULES
    }
    assert not named


def asked_kinds(tree):
    """Names of the kinds that `isinstance` is asked about in a file."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("isinstance", "issubclass"):
            yield from (one.id for one in ast.walk(node.args[1]) if isinstance(one, ast.Name))


def test_no_one_outside_asks_what_kind_a_rule_or_a_layer_is():
    rules = {(m, kind) for m, tree in TREES.items() if room(m) != "under_lattice.rules" for kind in asked_kinds(tree)}
    assert not {one for one in rules if one[1] in KINDS_OF_RULES | FAMILIES}
    assert not {(m, kind) for m, kind in rules if kind in KINDS_OF_LAYERS and not m.startswith(OWN_LAYERS)}


def test_no_circle_of_imports_even_for_types():
    below = {module: imported(module) for module in MODULES}
    done, under = set(), []

    def visit(module):
        assert module not in under, " -> ".join([*under[under.index(module) :], module])
        if module in done:
            return
        under.append(module)
        for other in sorted(below[module] - {module}):
            visit(other)
        under.pop()
        done.add(module)

    for module in sorted(MODULES):
        visit(module)


@pytest.mark.parametrize("module", sorted(MODULES))
def test_files_and_functions_stay_small(module):
    assert len(MODULES[module].read_text(encoding="utf-8").splitlines()) <= 400
    for node in ast.walk(TREES[module]):
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
            said = isinstance(node.body[0], ast.Expr) and isinstance(node.body[0].value, ast.Constant)
            first = node.body[1:][0] if said and node.body[1:] else node.body[0]
            assert node.body[-1].end_lineno - first.lineno < 60, node.name


def test_folders_hold_at_most_about_fifteen_files():
    """Motifs are one kind of thing, a file each, and so are rows of dials and kernels."""
    many = {"motifs", "dials", "render", "geometry", "work"}
    for folder in {path.parent for path in FILES}:
        assert len(list(folder.glob("*.py"))) <= (30 if folder.name in many else 16), folder


def test_words_of_the_window_are_made_where_they_are_made_plain():
    """Labels and messages are of our own kinds; a tip that is not written in the code goes through `tip`."""
    made, tips = set(), set()
    for module, tree in TREES.items():
        for node in ast.walk(tree) if module.startswith("under_lattice.ui") else ():
            if not isinstance(node, ast.Call):
                continue
            if isinstance(node.func, ast.Name) and node.func.id in ("QLabel", "QMessageBox"):
                made.add((module, node.func.id))
            if isinstance(node.func, ast.Attribute) and node.func.attr == "setToolTip":
                tips.add((module, ast.unparse(node.args[-1])))
    assert not made
    loose = {(module, text) for module, text in tips if not text.startswith("tip(")}
    named = {(m, text) for m, text in loose for node in ast.walk(ast.parse(text)) if getattr(node, "attr", "") in NAMES_OF_PEOPLE}
    assert not named
    assert len(tips - loose) > 15


def test_rules_that_read_where_the_sheet_is_say_so():
    """What they do not say is not worked out for them."""
    for kind in RULES:
        own = [MODULES[one.__module__].read_text(encoding="utf-8") for one in kind.__mro__ if one.__module__ in MODULES]
        assert kind.sees_sheet or not any(".back" in text for text in own), kind.__name__
