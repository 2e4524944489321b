"""The first hour, as docs/first-hour.md tells it: every step is done, and what is written is opened by others."""

import re

import numpy as np
import pytest
import resvg_py
from PIL import Image
from PySide6.QtWidgets import QMessageBox

from tests.first_hour import PAGE, FirstHour, headings
from under_lattice.files.recipe import open_any


@pytest.fixture
def hour(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setattr(QMessageBox, "exec", lambda box: pytest.fail(box.text()))
    yield FirstHour(qtbot, window, tmp_path)
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Discard)


def test_every_step_of_the_page_can_be_done(hour, tmp_path):
    for step in hour.steps:
        step()
    cell = np.asarray(Image.open(tmp_path / "cell.png").convert("RGB"), int)
    assert np.abs(cell[0] - cell[-1]).mean() < 60  # it goes on at its edges
    work = open_any(tmp_path / "first.lattice").work
    assert work.kept
    assert "push-edges" in [rule.kind for _, rule in work.design.every_rule()]
    screen = (tmp_path / "screen.svg").read_text()
    assert screen.count("<path") > 20
    assert resvg_py.svg_to_bytes(screen, dpi=96.0)
    (loop,) = tmp_path.glob("loop.*")
    assert loop.stat().st_size > 5000


def test_the_page_has_these_steps_and_their_pictures():
    steps = FirstHour(None, None, None).steps
    assert headings() == [step.__doc__ for step in steps]
    pictures = re.findall(r"\(first-hour/([a-z]+)\.png\)", PAGE.read_text(encoding="utf-8"))
    assert pictures == ["begin", "push", "repeat", "cell", "formula", "change", "relatives", "cut", "turn"]
    assert all((PAGE.parent / "first-hour" / f"{name}.png").exists() for name in pictures)
