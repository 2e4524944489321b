"""Long loops ask whether they are still wanted: often enough where each thing takes long, seldom where it takes nothing."""

import time

import pytest

from under_lattice.core.errors import GivenUp
from under_lattice.core.progress import AT_A_TIME, OFTEN, Progress


def asked_over(things, seconds):
    """How often a loop asks that goes through so many things, each of which takes so long."""
    asked = []
    for _ in Progress(lambda: bool(asked.append(1))).each(range(things)):
        time.sleep(seconds)
    return len(asked)


def test_slow_things_are_asked_about_one_by_one():
    assert asked_over(9, 2 * OFTEN) == 9


def test_quick_things_are_asked_about_by_the_dozen_but_none_is_left_out():
    asked, things = [], list(range(10 * AT_A_TIME + 3))
    assert list(Progress(lambda: bool(asked.append(1))).each(things)) == things
    assert 11 <= len(asked) < len(things) / 4


@pytest.mark.parametrize("things", [[], (), iter([])])
def test_nothing_asks_nothing(things):
    assert list(Progress(lambda: True).each(things)) == []


def test_what_is_not_wanted_ends_at_the_next_slow_thing():
    seen = []

    def go():
        for thing in Progress(lambda: len(seen) >= 3).each(range(50)):
            seen.append(thing)
            time.sleep(2 * OFTEN)

    with pytest.raises(GivenUp):
        go()
    assert seen == [0, 1, 2]
