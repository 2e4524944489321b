"""Kills at any moment, the short form of `bench/kills.py`."""

import pytest

from tests.killing import counts


@pytest.mark.parametrize("what", ["saving", "linked", "copying"])
def test_what_a_killed_writer_leaves_is_whole_and_found_again(tmp_path, what):
    """Saving a file, one with several names, and the copy of unsaved work."""
    met = counts(what, 14, tmp_path)
    assert met["broken"] == met["left"] == 0
    assert met["whole"] > 5
