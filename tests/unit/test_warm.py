"""The kernels are compiled by two processes that share the work."""

from pathlib import Path

import pytest

from under_lattice.render import kernel_sweep, warm


def test_all_kernels_are_kept():
    warm.warm()
    assert warm.is_warm()
    assert warm.share_ready() == 1.0


@pytest.mark.parametrize("name", ["sweep_clear", "sweep_opaque", "sweep_paint", "sweep_opaque_paint"])
def test_what_is_compiled_ahead_is_what_painting_calls(name):
    warm.sweep_and_paint()  # other types of numbers would be compiled, and kept, beside those
    kept = Path(getattr(kernel_sweep, name).stats.cache_path)
    assert len(list(kept.glob(f"kernel_sweep.{name}-*.nbc"))) == 1
