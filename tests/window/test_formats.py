"""A format is declared once: dialog, command line and reference page take it from there."""

import json
from typing import Annotated, ClassVar, Literal

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from tests.chains import work_of
from under_lattice import output
from under_lattice.command_line import options
from under_lattice.command_line.main import main
from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Choice, Count
from under_lattice.files.storage import write
from under_lattice.output.format import WITH_RECIPE, Format
from under_lattice.rules import Ellipse, Ink, Rosette
from under_lattice.ui.export.export_dialog import ExportDialog


class Listing(Format):
    """Where each mark stands; made up for this test alone."""

    ending: ClassVar[str] = "txt"
    title: ClassVar[str] = "Listing"
    words: ClassVar[str] = "places of marks"
    needs: ClassVar = frozenset({"outlines"})

    recipe: Annotated[bool, WITH_RECIPE] = True
    every: Annotated[int, Count("Every", "So many marks, one is listed.", least=1, most=50)] = 1
    order: Annotated[Literal["as laid", "by place"], Choice("Order", "Of the lines.", options=("as laid", "by place"))] = "as laid"

    def write(self, job):
        marks = [layer.picture.marks for layer in job.scene.layers]
        places = [tuple(round(float(v), 3) for v in place) for one in marks for place in one.xform[:: self.every, :, 2]]
        return json.dumps({"recipe": self.recipe, "places": sorted(places) if self.order == "by place" else places}).encode()


@pytest.fixture
def listed(monkeypatch):
    formats = (*output.FORMATS, Listing)
    for module in (output, options):
        monkeypatch.setattr(module, "FORMATS", formats)
    monkeypatch.setitem(output.BY_ENDING, ".txt", Listing)


def test_a_new_format_is_on_the_command_line(listed, tmp_path, capsys):
    write(work_of(Ellipse(width=4.0), Rosette(count=12, radius=30.0), Ink()), tmp_path / "a.lattice")
    out = tmp_path / "a.txt"
    order = ["render", str(tmp_path / "a.lattice"), "-o", str(out)]
    assert main([*order, "--every", "3", "--order", "by place", "--no-recipe"]) == 0
    found = json.loads(out.read_text())
    assert len(found["places"]) == 4
    assert found["places"] == sorted(found["places"])
    assert found["recipe"] is False
    assert main([*order, "--every", "51"]) == 1
    assert "from 1 to 50 is allowed" in capsys.readouterr().err
    assert main([*order, "--width", "400"]) == 0
    assert "Listing has no option --width; it is left aside" in capsys.readouterr().err


def test_a_new_format_is_in_the_dialog_with_its_options(listed, hands, tmp_path):
    hands.do("export")
    dialog = hands.window.findChild(ExportDialog)
    button = next(one for one in dialog.formats.buttons() if one.property("format") == "txt")
    assert (button.text(), button.toolTip()) == ("Listing", "places of marks")
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    page = dialog.pages["txt"]
    assert page.isVisible()
    assert [key for key, one in dialog.pages.items() if one.isVisible()] == ["txt"]
    hands.type_in(page.parts["every"], "5")
    QTest.mouseClick(page.parts["recipe"], Qt.MouseButton.LeftButton, pos=QPoint(8, page.parts["recipe"].height() // 2))
    page.parts["order"].textActivated.emit("by place")
    assert dialog.options() == Listing(every=5, order="by place", recipe=False)
    dialog.write(tmp_path / "b.txt")
    hands.bot.waitUntil(lambda: (tmp_path / "b.txt").exists(), timeout=20_000)
    assert json.loads((tmp_path / "b.txt").read_text())["recipe"] is False


def test_options_out_of_range_are_refused_and_say_what_is_allowed():
    with pytest.raises(InputError, match="from 0 to 9"):
        output.BY_ENDING[".svg"]().turned("digits", 12)
    png = output.BY_ENDING[".png"]().turned("width", 500).turned("dpi", 100)
    assert (png.width, png.dpi) == (0, 100)
