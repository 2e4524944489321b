"""Every declaration holds to what it says; no file of a rule is missing from the list; the pages are true."""

import importlib
import inspect
import json
import pkgutil
import re
import runpy
import shutil
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest

import under_lattice.rules
from tests.chains import floor_alone
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Choice, NumberDial, Point
from under_lattice.declare.frozen import edited
from under_lattice.files.schema import schema
from under_lattice.files.storage import to_data
from under_lattice.library import DEMOS, STARTS, blank, demo
from under_lattice.rules import KINDS, RULES
from under_lattice.rules.base import Rule
from under_lattice.rules.families import CopyRule, MotifRule, ShapeRule
from under_lattice.rules.unknown import UnknownRule
from under_lattice.vary.numbers import Varied

ROOT = Path(__file__).parent.parent.parent
DIALS = [(rule, name) for rule in RULES for name in rule.dials()]


def test_no_rule_is_missing_from_the_list():
    found = set()
    for module in pkgutil.walk_packages(under_lattice.rules.__path__, "under_lattice.rules."):
        members = vars(importlib.import_module(module.name)).values()
        found |= {m for m in members if inspect.isclass(m) and issubclass(m, Rule) and "kind" in m.__annotations__}
    assert found - {Rule, MotifRule, ShapeRule, CopyRule, UnknownRule} == set(RULES)
    assert len(KINDS) == len(RULES)


@pytest.mark.parametrize("rule", RULES)
def test_every_rule_says_what_it_is(rule):
    assert rule.title
    assert rule.words.endswith(".")
    assert rule.search
    assert rule.family != "unknown"
    assert rule.model_validate(rule(kind=rule.model_fields["kind"].default).model_dump()) is not None


@pytest.mark.parametrize(("rule", "name"), DIALS, ids=lambda v: v if isinstance(v, str) else v.__name__)
def test_every_dial_holds_to_its_range(rule, name):
    dial, fresh = rule.dials()[name], rule(kind=rule.model_fields["kind"].default)
    assert dial.label
    assert dial.words.endswith(".")
    default = getattr(fresh, name)
    if isinstance(dial, NumberDial):
        assert dial.least <= default <= dial.most
        assert dial.slides[0] < dial.slides[1]
        for wrong in (dial.least - 1, dial.most + 1, float("nan"), float("inf")):
            with pytest.raises(InputError):
                edited(fresh, **{name: wrong})
        varied = Varied(rule="x", channel="step", start=dial.least, end=dial.most)
        if dial.vary:
            assert edited(fresh, **{name: varied})
        else:
            with pytest.raises(InputError):
                edited(fresh, **{name: varied})
    if isinstance(dial, Choice):
        assert default in dial.options
        with pytest.raises(InputError):
            edited(fresh, **{name: "nonsense"})
    for when in dial.when:
        assert when.field in rule.model_fields
        assert when.reason
    if isinstance(dial, Point):
        assert default.words()


def test_schema_is_one_and_takes_every_demo_and_start():
    jsonschema.Draft202012Validator.check_schema(schema())
    check = jsonschema.Draft202012Validator(schema())
    seen: set[str] = set()
    for work in [demo(name) for name in DEMOS] + [blank(name) for name in STARTS]:
        kinds = {rule.kind for _, rule in work.design.every_rule()}
        if not kinds <= seen:  # those with rules that none before has
            check.validate(json.loads(json.dumps(to_data(work))))
        seen |= kinds
    wrong = json.loads(json.dumps(to_data(floor_alone())))
    wrong["design"]["layers"][0]["rules"][0]["sides"] = 1
    assert not check.is_valid(wrong)


def test_the_gallery_shows_every_work_and_no_page_names_a_picture_or_page_that_is_not_there():
    made = runpy.run_path(str(ROOT / "tools" / "remake_gallery.py"))
    assert (ROOT / "docs" / "gallery.md").read_text() == made["page"]()
    missing = []
    for page in (*(ROOT / "docs").glob("*.md"), ROOT / "README.md", ROOT / "CONTRIBUTING.md"):
        links = re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", page.read_text())
        missing += [f"{page.name}: {link}" for link in links if not (page.parent / link).exists()]
    assert not missing


def test_pages_made_from_declarations_are_up_to_date():
    made = runpy.run_path(str(ROOT / "tools" / "remake_docs.py"))
    assert (ROOT / "docs" / "lattice.schema.json").read_text() == made["schema_text"]()
    assert (ROOT / "docs" / "rules.md").read_text() == made["reference"]()
    assert (ROOT / "docs" / "formats.md").read_text() == made["formats"]()
    assert (ROOT / "share" / "under-lattice.1").read_text() == made["man_page"]()


@pytest.mark.skipif(not shutil.which("groff"), reason="no reader of man pages is here")
def test_the_man_page_is_read_without_a_word_of_complaint():
    page = str(ROOT / "share" / "under-lattice.1")
    done = subprocess.run(["groff", "-man", "-Tutf8", "-ww", page], capture_output=True, text=True)
    assert not done.stderr
    plain = re.sub("\x1b\\[[0-9;]*m|.\x08", "", done.stdout)  # without bold and underlined
    for words in ("render", "film", "plot", "facts", "siblings", "strip", "rules", "--width PX"):
        assert words in plain


def test_import_contracts_hold():
    done = subprocess.run(
        [Path(sys.executable).parent / "lint-imports", "--no-cache"], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout


def test_nothing_but_the_window_loads_qt():
    code = (
        "import sys, pathlib, importlib, under_lattice\n"
        "root = pathlib.Path(under_lattice.__file__).parent\n"
        "for file in root.rglob('*.py'):\n"
        "    parts = file.relative_to(root).with_suffix('').parts\n"
        "    if parts[0] not in ('ui', '__main__'): importlib.import_module('.'.join(('under_lattice', *parts)))\n"
        "assert not [m for m in sys.modules if m.startswith('PySide6')]"
    )
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0
