"""Spoilt files, drawings, pictures and words are read or refused with a sentence: the short form of `bench/fuzz.py`."""

import pytest

from tests.mutating import KINDS, Trials, tried
from under_lattice.core.errors import FileError
from under_lattice.files.storage import from_text, to_text
from under_lattice.library import demo
from under_lattice.rules import FrozenMotif


@pytest.fixture(scope="module")
def trials():
    return Trials()


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_spoilt_is_read_or_refused(trials, kind):
    times = {"file": 40, "drawing": 25}.get(kind, 120)
    met, wrong = tried(trials, kind, times)
    assert met["faults"] == met["without end"] == 0, wrong
    assert met["refused"] > times / 10 or kind == "pens"  # a plotter passes over what it does not know
    assert met["read"] > 0


def test_a_whole_number_too_large_for_a_dial_is_refused():
    text = to_text(demo())
    with pytest.raises(FileError, match="no number that can be kept"):
        from_text(text.replace('"turn": 0.0', f'"turn": {"9" * 400}', 1))


@pytest.mark.parametrize("far", ["1e308", "-1e10", "inf", "nan"])
def test_a_ramp_that_lies_too_far_away_is_refused(far):
    with pytest.raises(ValueError, match="its ramp lies nowhere"):
        FrozenMotif(shapes=f"radial:Oklab:80:0,#FF0000,1,.5;1,#0000FF,1,.5:{far},0,4,0,9,3 none 0 M0 0 L9 0 L5 9 Z")
