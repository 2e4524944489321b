"""Settings shared by all tests."""

import gc
import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from hypothesis import settings

settings.register_profile("steady", max_examples=60, deadline=None, derandomize=True, print_blob=False)
settings.load_profile("steady")
gc.set_threshold(100_000, 50, 100)  # each test makes many objects that are gone with it; rounds of the collector took a tenth

import pytest  # noqa: E402

from under_lattice.output import svg  # noqa: E402


@pytest.fixture(autouse=True)
def _small_pictures_in_files(monkeypatch):
    """What goes into drawings as a picture is small: works are written hundreds of times."""
    monkeypatch.setattr(svg, "PICTURE_PX", 120)


@pytest.fixture(autouse=True)
def _own_cache(tmp_path, monkeypatch):
    """Pictures of a file that was stopped are kept for this test alone."""
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
